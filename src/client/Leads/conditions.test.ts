import { expect, test } from "vitest";
import { readPicks, toCondition } from "./conditions";

const from = (query: string) => toCondition(readPicks(new URLSearchParams(query)));

test("without picks the open leads are meant", () => {
  expect(from("")).toEqual({ all: [{ field: "state", is: "in", values: ["new", "in_work", "on_hold", "qualified"] }] });
});

test("any state and nothing else means every lead", () => {
  expect(from("state=any")).toBeNull();
});

test("the parts of the sentence become conditions that must all hold", () => {
  expect(from("country=NO,SE&fit=60&owner=none&state=any")).toEqual({
    all: [
      { field: "country", is: "in", values: ["NO", "SE"] },
      { field: "fit", is: "at-least", values: ["60"] },
      { not: { field: "owner", is: "known", values: [] } },
    ],
  });
});

test("a search looks at leads of any state, and every word must be found", () => {
  const found = from("text=ragna+fjordn%C3%A6r") as { all: { any: { values: string[] }[] }[] };
  expect(found.all.map((part) => part.any[0]?.values)).toEqual([["ragna"], ["fjordnær"]]);
});
