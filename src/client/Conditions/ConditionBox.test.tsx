// @vitest-environment happy-dom
import { act } from "react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { answer } from "../testing/answers";
import { clear, draw, hasButton, press, said, tick, write } from "../testing/render";
import { ConditionBox } from "./ConditionBox";
import type { Field, Leaf } from "./conditions";

const fields = [
  { key: "fit", label: "Fit", type: "number", origin: "computed", choices: [], operators: [{ key: "at-least", values: 1 }, { key: "between", values: 2 }] },
  { key: "city", label: "Place", type: "text", origin: "fact", choices: [], operators: [{ key: "contains", values: 1 }, { key: "known", values: 0 }] },
] as unknown as Field[];

let done: unknown[];

beforeEach(() => {
  done = [];
  // A number written in another way than plainly is read by the server.
  answer({ "GET /api/numbers": () => ({ readings: [] }) });
});

afterEach(async () => {
  await clear();
  vi.restoreAllMocks();
});

const shown = (start?: Leaf) =>
  draw(
    <ConditionBox
      fields={fields}
      start={start}
      onSet={(leaf) => done.push(leaf)}
      onRemove={start && (() => done.push("gone"))}
      onBeside={start && ((leaf, how) => done.push([how, leaf]))}
      close={() => done.push("closed")}
    />,
  );

const settled = () => act(async () => undefined);

test("too little is asked for, and nothing is set", async () => {
  await shown();
  await press("Add");
  await settled();
  expect(said()).toContain("Give a number.");
  expect(done).toEqual([]);
});

test("what was there is changed in place, and closes", async () => {
  await shown({ field: "fit", is: "at-least", values: ["60"] });
  await write("Number", "75");
  await press("Set");
  await settled();
  expect(done).toEqual([{ field: "fit", is: "at-least", values: ["75"] }, "closed"]);
});

test("a number that is none is said to be none", async () => {
  await shown({ field: "fit", is: "at-least", values: ["60"] });
  await write("Number", "many");
  await press("Set");
  await settled();
  expect(said()).toContain("“many” is not a number.");
  expect(done).toEqual([]);
});

test("it can be turned round, and back", async () => {
  await shown({ not: { field: "city", is: "contains", values: ["berg"] } });
  await tick("must not hold");
  await press("Set");
  await settled();
  expect(done[0]).toEqual({ field: "city", is: "contains", values: ["berg"] });
});

test("a second stands beside it: either, or both; the first stays as it was", async () => {
  await shown({ field: "city", is: "contains", values: ["berg"] });
  await press("or …");
  expect(said()).toContain("Or it may be that");
  expect(hasButton("Leave out")).toBe(false);
  await press("Add");
  await settled();
  expect(said()).toContain("Say what it is to be.");
  await write("Text; a comma between several", "stad");
  await press("Add");
  await settled();
  expect(done).toEqual([["any", { field: "city", is: "contains", values: ["stad"] }], "closed"]);
});

test("it is left out by one press", async () => {
  await shown({ field: "city", is: "contains", values: ["berg"] });
  await press("Leave out");
  expect(done).toEqual(["gone", "closed"]);
});
