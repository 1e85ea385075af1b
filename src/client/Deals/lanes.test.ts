import { expect, test } from "vitest";
import { axis, gather, later, marker, place } from "./lanes";

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

test("a lane of ten thousand deals loses none and stays as high as its rows", () => {
  const many = Array.from({ length: 10_000 }, (_, i) => ({ ...deal(later("2026-11-23", i % 200), i % 17 === 0), amount: i }));
  const { placed, gathered } = gather(many, time, 6);
  expect(placed.length + gathered.reduce((n, g) => n + g.deals, 0)).toBe(10_000);
  expect(Math.max(...placed.map((p) => p.row), ...gathered.map((g) => g.row))).toBeLessThan(6);
});

test("the dearest of a column stand by themselves", () => {
  const many = Array.from({ length: 500 }, (_, i) => ({ ...deal(later("2026-11-23", i % 200)), amount: (i * 37) % 501 }));
  const { placed } = gather(many, time, 6);
  const column = (d: { expectedClose: string }) => time.today + Math.floor((time.x(d.expectedClose) - time.today) / (marker + 4)) * (marker + 4);
  for (const x of new Set(placed.map((p) => p.x))) {
    const all = many.filter((d) => column(d) === x).sort((a, b) => b.amount - a.amount);
    const shown = placed.filter((p) => p.x === x).map((p) => p.deal.amount);
    expect(shown).toEqual(all.slice(0, shown.length).map((d) => d.amount));
  }
});

test("deals beside the list are counted where they close", () => {
  const listed = [0, 3, 20].map((days) => ({ ...deal(later("2026-11-23", days)), amount: 5 }));
  const { placed, gathered } = gather(listed, time, 6, [
    { from: "2026-11-23", deals: 40 },
    { from: "2027-03-15", deals: 7 },
    { from: null, deals: 2 },
  ]);
  expect(placed.length).toBe(3);
  expect(gathered.reduce((n, g) => n + g.deals, 0)).toBe(49);
  expect(gathered.find((g) => g.x === 0)).toEqual({ x: 0, row: 0, deals: 2 });
  // A marker of others stands under those that stand by themselves.
  for (const g of gathered) expect(placed.filter((p) => p.x === g.x && p.row >= g.row)).toEqual([]);
});

test("a month later is a day of the next month", () => {
  expect(later("2026-11-23", 30)).toBe("2026-12-23");
  expect(later("2026-03-01", -1)).toBe("2026-02-28");
});
