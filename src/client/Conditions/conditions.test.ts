import { expect, test } from "vitest";
import { allOf, always, beside, fromShortcuts, replaced, wordsOf, type Condition, type Field, type Leaf } from "./conditions";

const short = (query: string) => fromShortcuts(new URLSearchParams(query));
const a: Leaf = { field: "country", is: "in", values: ["NO", "SE"] };
const b: Leaf = { not: { field: "owner", is: "known", values: [] } };
const c: Leaf = { field: "fit", is: "at-least", values: ["60"] };
const fields = [
  { key: "country", label: "Country", type: "country", choices: [{ key: "NO", label: "Norway" }, { key: "SE", label: "Sweden" }] },
  { key: "owner", label: "Owner", type: "choice", choices: [] },
  { key: "fit", label: "Fit", type: "number", choices: [] },
  { key: "created_at", label: "Came in", type: "date", choices: [] },
  { key: "city", label: "Place", type: "name", choices: [] },
] as unknown as Field[];

test("without short words the open leads are meant, and any state means every lead", () => {
  expect(short("")).toEqual({ all: [{ field: "state", is: "in", values: ["new", "in_work", "on_hold", "qualified"] }] });
  expect(short("state=any")).toEqual({ all: [] });
  expect(short("text=ragna")).toEqual({ all: [] });
});

test("short words become conditions that must all hold", () => {
  expect(short("country=NO,SE&fit=60&owner=none&state=any")).toEqual({ all: [a, c, b] });
});

test("a part is put in place of another, at any depth", () => {
  const whole: Condition = { all: [a, { any: [b, c] }] };
  expect(replaced(whole, [1, 1], a)).toEqual({ all: [a, { any: [b, a] }] });
  expect(replaced(whole, [1, 0], null)).toEqual({ all: [a, c] });
  expect(replaced(whole, [0], null)).toEqual({ any: [b, c] });
  expect(replaced(a, [], null)).toBeNull();
  expect(replaced({ not: { all: [a, b] } }, [0, 1], null)).toEqual({ not: a });
});

test("conditions together make one sentence: parts of parts are parts of it, and what always holds is none", () => {
  expect(allOf([{ all: [a, b] }, c])).toEqual({ all: [a, b, c] });
  expect(allOf([a, always])).toEqual(a);
  expect(allOf([always, { any: [a, b] }])).toEqual({ any: [a, b] });
  expect(allOf([])).toEqual(always);
});

test("an alternative joins a group that is there, or makes one", () => {
  expect(beside({ all: [a, b] }, [1], c, "any")).toEqual({ all: [a, { any: [b, c] }] });
  expect(beside({ any: [a, b] }, [], c, "any")).toEqual({ any: [a, b, c] });
  expect(beside({ any: [a, b] }, [1], c, "all")).toEqual({ any: [a, { all: [b, c] }] });
});

test("parts of the sentence read as people say them", () => {
  expect([a, b, c, { not: a } as Leaf].map((leaf) => wordsOf(leaf, fields))).toEqual(["country is Norway or Sweden", "without owner", "fit 60 or more", "country is not Norway or Sweden"]);
  expect(wordsOf({ field: "created_at", is: "since", values: ["2026-03-01T00:00:00Z"] }, fields)).toBe("came in since 1 Mar 2026");
  expect(wordsOf({ not: { field: "city", is: "contains", values: ["berg"] } }, fields)).toBe("place does not contain “berg”");
  expect(wordsOf({ field: "gone", is: "past", values: [] }, fields)).toBe("gone past");
});
