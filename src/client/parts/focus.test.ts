// @vitest-environment happy-dom
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { keepFocus, land } from "./focus";

let stop: () => void;

// What has no place on the page of this test is what is hidden.
function page(html: string) {
  document.body.innerHTML = `<main>${html}</main>`;
}

const at = (id: string) => document.getElementById(id)!;
const focused = () => document.activeElement?.id;
const settled = () => new Promise((r) => requestAnimationFrame(() => requestAnimationFrame(r)));

beforeEach(() => {
  vi.spyOn(Element.prototype, "getClientRects").mockImplementation(function (this: Element) {
    return (this.closest("[hidden]") ? [] : [{}]) as unknown as DOMRectList;
  });
  stop = keepFocus();
});

afterEach(() => {
  stop();
  vi.restoreAllMocks();
  document.body.innerHTML = "";
});

test("a row that is done gives the focus to the row that has its place", async () => {
  page(`<ul><li><button id="a"></button></li><li><button id="b"></button></li><li><button id="c"></button></li></ul>`);
  at("b").focus();
  at("b").parentElement!.remove();
  await settled();
  expect(focused()).toBe("c");
  at("c").parentElement!.remove();
  await settled();
  expect(focused()).toBe("a");
});

test("the last row of a list gives it to the heading of the part", async () => {
  page(`<section><h2 id="h">Waits</h2><ul><li><button id="a"></button></li></ul></section>`);
  at("a").focus();
  at("a").parentElement!.remove();
  await settled();
  expect(focused()).toBe("h");
});

test("a form that closes gives it to what stands next within the same part, and passes over the hidden", async () => {
  page(`<section><form><input id="i"></form><div hidden><button id="no"></button></div><button id="yes"></button></section><button id="far"></button>`);
  at("i").focus();
  document.querySelector("form")!.remove();
  await settled();
  expect(focused()).toBe("yes");
});

test("what floated over the page gives it to the heading, and not to whatever stands last", async () => {
  page(`<h1 id="h">Leads</h1><ul><li><button id="a"></button></li></ul>`);
  document.body.insertAdjacentHTML("beforeend", `<div id="sheet"><form><input id="i"></form></div>`);
  at("i").focus();
  at("sheet").remove();
  await settled();
  expect(focused()).toBe("h");
});

test("a button that is off while it works has the focus again after", async () => {
  page(`<button id="a"></button><button id="b"></button>`);
  const a = at("a") as HTMLButtonElement;
  a.focus();
  a.disabled = true;
  a.blur();
  await settled();
  expect(focused()).not.toBe("b");
  a.disabled = false;
  await settled();
  expect(focused()).toBe("a");
});

test("it is not taken where it was left on purpose, or is elsewhere by now", async () => {
  page(`<ul><li><button id="a"></button></li><li><button id="b"></button></li></ul>`);
  at("a").focus();
  at("a").blur();
  document.body.append(document.createElement("p"));
  await settled();
  expect(document.activeElement).toBe(document.body);
  at("b").focus();
  at("a").parentElement!.remove();
  await settled();
  expect(focused()).toBe("b");
});

test("landing goes to what is chosen, the first row or box, or the part itself; not to one that is hidden", () => {
  page(`<section data-landing="list" hidden><button></button></section><section data-landing="list"><div role="row" tabindex="0" id="one"></div><div role="row" tabindex="0" aria-selected="true" id="two"></div></section><section data-landing="composer"><button></button><textarea id="text"></textarea></section><section data-landing="bare" id="bare"></section>`);
  expect(land("list")).toBe(true);
  // Of two that fit the first in the page.
  expect(["one", "two"]).toContain(focused());
  at("one").remove();
  land("list");
  expect(focused()).toBe("two");
  land("composer");
  expect(focused()).toBe("text");
  land("bare");
  expect(focused()).toBe("bare");
  expect(land("nowhere")).toBe(false);
});
