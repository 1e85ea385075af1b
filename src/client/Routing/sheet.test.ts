import { expect, test } from "vitest";
import type { Condition } from "../Conditions/conditions";
import { cellOf, fieldsOf, goalBy, goalWords, saidOf, wayOf, withCell, type Finding, type Names, type Rule } from "./sheet";

const norway: Condition = { field: "country", is: "in", values: ["NO"] };
const fish: Condition = { field: "industry", is: "in", values: ["fish"] };
const large: Condition = { any: [{ field: "sites", is: "at-least", values: ["4"] }, { not: { field: "sites", is: "known", values: [] } }] };
const rule = (when: Condition) => ({ key: "r", name: "r", when, to: { team: "sea" } }) as unknown as Rule;
const names = { persons: [{ key: "tor", name: "Tor Vik" }], teams: [{ key: "sea", name: "North Sea" }], skills: [], moments: [], guards: [], onExpiry: [] } as Names;

test("a cell is what a rule asks of one field, nested parts included", () => {
  const r = rule({ all: [norway, { all: [fish, large] }] });
  expect(cellOf(r, "country")).toEqual(norway);
  expect(cellOf(r, "sites")).toEqual(large);
  expect(cellOf(r, "city")).toBeNull();
  expect(fieldsOf(r.when as Condition)).toEqual(["country", "industry", "sites"]);
});

test("another cell leaves the others as they are", () => {
  const r = withCell(rule(norway), "industry", fish);
  expect(r.when).toEqual({ all: [norway, fish] });
  expect(withCell(r, "country", null).when).toEqual({ all: [fish] });
  expect(withCell(rule({ all: [] }), "country", norway).when).toEqual({ all: [norway] });
});

test("what is said of rule 1 is not said of rule 12", () => {
  const said = (path: string) => ({ problem: { code: "x", path, found: "" }, blocks: false, others: [], words: "" }) as unknown as Finding;
  expect(saidOf([said("rules/1"), said("rules/1/to"), said("rules/12")], 1).length).toBe(2);
});

test("a goal keeps what both kinds have, and reads as people say it", () => {
  const to = { team: "sea", speaking: true, skills: ["x"], else: { hold: "nobody" } };
  expect(wayOf(to)).toBe("team");
  expect(goalBy("person", names, to)).toEqual({ person: "tor", speaking: true, skills: ["x"], else: { hold: "nobody" } });
  expect(goalBy("keep", names, to)).toEqual({ keep: true });
  expect(goalWords(to, names)).toBe("North Sea, in turn; else The Desk: nobody");
  expect(goalWords({ person: "gone" }, names)).toBe("gone, who is gone");
});
