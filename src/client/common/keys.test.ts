import { expect, test } from "vitest";
import { isStale, keys, type Change } from "./keys";

const source = Object.values(keys).map((key) => (typeof key === "function" ? (key as (...a: string[][]) => readonly unknown[])(["a"], ["b"], ["c"], ["d"], ["e"]) : key));
const subjects = [...new Set(source.map((key) => String(key[0])))];
const changes: Change[] = ["story", "work", "lead", "around", "files", "deal", "duplicates", "views", "people", "arrivals", "import", "forms", "campaigns", "lists", "setup", "staff", "asks", "calendar", "barred", "outbox", "failed", "tokens", "sessions", "session", "secondStep", "company", "start", "backups"];

const staleBy = (change: Change) => subjects.filter((subject) => isStale([subject], [change]));

test("a note makes the page ask for the record it is written to, and for nothing else", () => {
  expect(staleBy("story").sort()).toEqual(["account", "contact", "deal", "lead"]);
});

test("each change makes something stale, and names only subjects that something is asked of", () => {
  for (const change of changes) expect(staleBy(change), change).not.toEqual([]);
  const named = changes.flatMap(staleBy);
  // What is stale by no act of the page changes by itself or never.
  expect(subjects.filter((s) => !named.includes(s)).sort()).toEqual(["alike", "demo", "erasures", "fit-so-far", "form-preview", "log", "log-choices", "person", "products", "purposes", "resources", "scoring", "way-in"]);
});

test("everything is all but the session", () => {
  expect(staleBy("everything")).toEqual(subjects.filter((s) => s !== "session"));
});

test("what belongs to a subject is stale with it", () => {
  expect(isStale(keys.decisions("l1", 3), ["story"])).toBe(true);
  expect(isStale(keys.people, ["lead"])).toBe(false);
});
