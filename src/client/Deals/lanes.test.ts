import { expect, test } from "vitest";
import { axis, marker, place } from "./lanes";

const time = axis("2026-11-23", 900);
const deal = (expectedClose: string, late = false) => ({ expectedClose, late });

test("late deals stand wholly before the today edge", () => {
  const [late] = place([deal("2026-10-01", true)], time);
  expect(late!.x + marker).toBeLessThanOrEqual(time.today);
});

test("a later close stands further right", () => {
  const placed = place([deal("2027-01-10"), deal("2026-12-10")], time);
  expect(placed.map((p) => p.deal.expectedClose)).toEqual(["2026-12-10", "2027-01-10"]);
  expect(placed[0]!.x).toBeLessThan(placed[1]!.x);
});

test("markers of a lane never overlap, however many share a day", () => {
  const days = ["2026-12-01", "2026-12-01", "2026-12-03", "2027-02-01", "2026-12-20", "2026-12-01"];
  const placed = place([...days.map((d) => deal(d)), deal("2026-09-01", true), deal("2026-09-02", true)], time);
  for (const a of placed) for (const b of placed) if (a !== b && a.row === b.row) expect(Math.abs(a.x - b.x)).toBeGreaterThanOrEqual(marker);
});

test("a place on the axis is read back as its day", () => {
  expect(time.dayAt(time.x("2027-01-15"))).toBe("2027-01-15");
  expect(time.dayAt(-50)).toBe("2026-11-23");
});
