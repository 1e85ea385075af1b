import { expect, test } from "vitest";
import type { Schema } from "../api/client";
import type { Model } from "./model";
import { applied } from "./suggested";

const model = { fit: [{ label: "Industry", lines: [{ points: 5 }, { points: 10 }] }, { label: "Sites", lines: [{ points: 1 }] }], engagement: [{ kind: "a", points: 20 }, { kind: "b", points: 30 }], bars: { fit: 50 } } as unknown as Model;

const point = (path: string, suggested: number) => ({ path, suggested }) as Schema["SuggestedPoint"];

test("takes the points one chose, and changes nothing else", () => {
  const next = applied(model, [point("fit/0/lines/1", 14), point("engagement/1", 25)]);
  expect(next).toEqual({ ...model, fit: [{ label: "Industry", lines: [{ points: 5 }, { points: 14 }] }, model.fit[1]], engagement: [{ kind: "a", points: 20 }, { kind: "b", points: 25 }] });
  expect(model.engagement[1]!.points).toBe(30);
});

test("two lines of one criterion are both taken; none changes nothing", () => {
  expect(applied(model, [point("fit/0/lines/0", 6), point("fit/0/lines/1", 7)]).fit[0]).toEqual({ label: "Industry", lines: [{ points: 6 }, { points: 7 }] });
  expect(applied(model, [])).toEqual(model);
});
