import { afterEach, expect, test } from "vitest";
import { setForm } from "./form";
import { count, day, left, moment, money, points, spelled, whole } from "./format";

const thin = "\u202f";

test("numbers are grouped with a thin space", () => {
  expect(whole(1204)).toBe(`1${thin}204`);
  expect(money(84600, "EUR")).toBe(`€${thin}84${thin}600`);
  expect(money(12000, "NOK")).toBe(`NOK${thin}12${thin}000`);
});

test("points carry their sign, a true minus for what is taken away", () => {
  expect(points(30)).toBe("+30");
  expect(points(-5)).toBe("\u22125");
});

test("the clock shows hours and minutes, and what is over", () => {
  expect(left(130)).toBe("2 h 10");
  expect(left(25)).toBe("25 min");
  expect(left(-61)).toBe("1 h 01 over");
});

test("a story's moments are near ones by day, far ones by date", () => {
  const now = new Date("2026-11-23T12:00:00Z");
  expect(moment("2026-11-23T08:40:00Z", "Europe/Oslo", now)).toBe("today 9:40");
  expect(moment("2026-11-20T08:40:00Z", "UTC", now)).toBe("Fri 20 Nov");
  expect(moment("2025-06-03T08:40:00Z", "UTC", now)).toBe("3 Jun 2025");
});

test("a date without a time is that day in every zone", () => {
  for (const zone of ["UTC", "Pacific/Auckland", "Pacific/Honolulu"]) {
    setForm({ zone, dates: "dayFirst" });
    expect(day("2026-03-18", new Date("2026-11-23T00:00:00Z"))).toBe("18 Mar");
  }
});

test("a moment is the day that it is for the person", () => {
  const now = new Date("2026-11-23T12:00:00Z");
  setForm({ zone: "Pacific/Auckland", dates: "dayFirst" });
  expect(day("2026-11-20T22:30:00Z", now)).toBe("21 Nov");
  expect(day("2025-12-31T20:00:00Z", now)).toBe("1 Jan");
  setForm({ zone: "America/New_York", dates: "dayFirst" });
  expect(day("2026-11-20T03:30:00Z", now)).toBe("19 Nov");
  expect(moment("2026-11-01T03:30:00Z", "Asia/Tokyo", now)).toBe("1 Nov");
});

test("one is singular", () => {
  expect(count(1, "lead")).toBe("1 lead");
  expect(count(2, "lead")).toBe("2 leads");
});

afterEach(() => setForm({ zone: "UTC", dates: "dayFirst" }));

test("days stand in the order in which the person writes them", () => {
  const now = new Date("2026-11-23T12:00:00Z");
  setForm({ zone: "UTC", dates: "monthFirst" });
  expect(day("2026-03-18", now)).toBe("Mar 18");
  expect(spelled("2026-04-03")).toBe("Fri Apr 3, 2026");
  setForm({ zone: "UTC", dates: "yearFirst" });
  expect(day("2026-03-18", now)).toBe("2026-03-18");
});
