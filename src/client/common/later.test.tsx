// @vitest-environment happy-dom
import { act } from "react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { clear, draw, page, said } from "../testing/render";
import { later, useLater } from "./later";

let loads: number;

// One part is made for all; each test makes its own.
const made = () =>
  later(async () => {
    loads++;
    return ({ words }: { words: string }) => <p>{words}</p>;
  });

const stand = <input aria-label="stands here" />;

beforeEach(() => void (loads = 0));

afterEach(async () => {
  await clear();
  vi.unstubAllGlobals();
});

test("what stands in its place does until it is touched", async () => {
  const Part = made();
  await draw(<Part words="the list" before={stand} />);
  expect(loads).toBe(0);
  await act(async () => page.querySelector("input")!.focus());
  expect(loads).toBe(1);
  expect(said()).toBe("the list");
});

test("without anything in its place it is loaded as soon as it is drawn", async () => {
  const Part = made();
  await draw(<Part words="the dialog" />);
  expect(loads).toBe(1);
  expect(said()).toBe("the dialog");
});

test("it is loaded once the browser has nothing else to do, and no sooner", async () => {
  let idle: (() => void) | undefined;
  vi.stubGlobal("requestIdleCallback", (work: () => void) => ((idle = work), 1));
  vi.stubGlobal("cancelIdleCallback", () => (idle = undefined));
  const Part = made();
  const Page = () => {
    useLater();
    return <Part words="the menu" before={stand} />;
  };
  await draw(<Page />);
  expect(loads).toBe(0);
  await act(async () => idle!());
  expect(said()).toBe("the menu");
});
