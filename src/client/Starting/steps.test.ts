import { expect, test } from "vitest";
import { nextStep, stepAfter, steps } from "./steps";

const at = (...marks: string[]) => ({ steps: steps.map((s, i) => ({ key: s.key, done: marks[i] === "done", left: marks[i] === "left" })) });

test("one goes on with the first step that is open, then with those that were left", () => {
  expect(nextStep(at())).toBe("company");
  expect(nextStep(at("done", "left"))).toBe("people");
  expect(nextStep(at("done", "left", "done", "done", "done", "done", "done"))).toBe("mail");
  expect(nextStep(at("done", "done", "done", "done", "done", "done", "done"))).toBeUndefined();
});

test("after the last step there is none", () => {
  expect(stepAfter("company")).toBe("mail");
  expect(stepAfter("handover")).toBeUndefined();
});
