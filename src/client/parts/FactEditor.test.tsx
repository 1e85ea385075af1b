// @vitest-environment happy-dom
import { act } from "react";
import { afterEach, beforeEach, expect, test } from "vitest";
import { ApiError } from "../api/client";
import { box, clear, draw, hasButton, key, leave, press, redraw, said, write } from "../testing/render";
import type { Fact } from "./FactEditor";
import { FactList } from "./FactList";

const fact = (key: string, label: string, stored: string | null, more: Partial<Fact> = {}) => ({ key, label, stored, value: stored, from: null, hidden: false, choices: [], ...more }) as unknown as Fact;

const facts = [fact("city", "Place", "Bergen"), fact("employees", "Employees", null), fact("income", "Income", null, { hidden: true })];

let saved: [string, string | null, string][];
let saving: () => Promise<void>;

beforeEach(() => {
  saved = [];
  saving = async () => undefined;
});

afterEach(clear);

const list = (now = facts, ask = 0, mayWrite = true) => (
  <FactList
    facts={now}
    mayWrite={mayWrite}
    asked="employees"
    ask={ask}
    onSave={async (of, value) => {
      saved.push([of.key, of.stored ?? null, value]);
      await saving();
    }}
  />
);

const isOpen = (label: string) => document.querySelector(`input[aria-label="${label}"]`) !== null;

test("a fact is changed in place: Enter saves it and what it was when writing began", async () => {
  await draw(list());
  await press("Place: Bergen, change");
  await write("Place", "Stord");
  // Somebody else's change comes meanwhile.
  await redraw(list([fact("city", "Place", "Oslo"), ...facts.slice(1)]));
  expect(box("Place").value).toBe("Stord");
  await key(box("Place"), "Enter");
  expect(saved).toEqual([["city", "Bergen", "Stord"]]);
  expect(isOpen("Place")).toBe(false);
});

test("leaving the box saves as well, once; what was not changed is not written", async () => {
  await draw(list());
  await press("Place: Bergen, change");
  await leave("Place");
  expect(saved).toEqual([]);
  await press("Place: Bergen, change");
  await write("Place", "Stord");
  await key(box("Place"), "Enter");
  expect(saved).toHaveLength(1);
});

test("Escape leaves it as it was, also as the box goes", async () => {
  await draw(list());
  await press("Place: Bergen, change");
  await write("Place", "Stord");
  await key(box("Place"), "Escape");
  expect(saved).toEqual([]);
  expect(said()).toContain("Bergen");
});

test("what is wrong with it stands at it, with what was written", async () => {
  saving = async () => {
    throw new ApiError("“many” is not a number.", 400, "/problems/value", "facts.employees");
  };
  await draw(list());
  await press("Employees is not known, fill in");
  await write("Employees", "many");
  await key(box("Employees"), "Enter");
  expect(said()).toContain("“many” is not a number.");
  expect(box("Employees").value).toBe("many");
  // It can be put right.
  saving = async () => undefined;
  await write("Employees", "12");
  await key(box("Employees"), "Enter");
  expect(saved.at(-1)).toEqual(["employees", null, "12"]);
  expect(isOpen("Employees")).toBe(false);
});

test("the fact that is asked for opens, and only for those who may write it", async () => {
  await draw(list());
  await redraw(list(facts, 1));
  expect(isOpen("Employees")).toBe(true);
  await act(async () => undefined);
  await clear();
  await draw(list(facts, 0, false));
  await redraw(list(facts, 1, false));
  expect(isOpen("Employees")).toBe(false);
  expect(hasButton("Employees is not known, fill in")).toBe(false);
});

test("what only the owner sees is named, and offered to nobody", async () => {
  await draw(list());
  expect(said()).toContain("Shown to the owner only: income");
  expect(hasButton("Income is not known, fill in")).toBe(false);
});
