import { expect, test } from "vitest";
import type { Sheet } from "./queries";
import { labelsOf, withWords, wordsIn } from "./words";

const text = (title: string) => ({ title, intro: "", send: "", thanks: "", fields: {}, hints: {}, consents: {} });
const draft = { language: "en", text: text("Buoys"), translations: { de: text("Bojen") } } as unknown as Sheet;

test("a form has its own words and those of its translations; another language begins blank", () => {
  expect(wordsIn(draft, "en").title).toBe("Buoys");
  expect(wordsIn(draft, "de").title).toBe("Bojen");
  expect(wordsIn(draft, "no").title).toBe("");
});

test("words of one language change no other", () => {
  const changed = withWords(draft, "no", text("Bøyer"));
  expect([wordsIn(changed, "no").title, wordsIn(changed, "de").title, wordsIn(changed, "en").title]).toEqual(["Bøyer", "Bojen", "Buoys"]);
  expect(wordsIn(withWords(draft, "en", text("Floats")), "en").title).toBe("Floats");
});

test("labels are read as they are typed", () => {
  expect(labelsOf("a, b")).toEqual(["a", "b"]);
  expect(labelsOf("a,")).toEqual(["a", ""]);
  expect(labelsOf("a, b c")).toEqual(["a", "b c"]);
  expect(labelsOf("")).toEqual([]);
});
