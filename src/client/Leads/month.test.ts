import { expect, test } from "vitest";
import { asked, daysOf, monthAfter, spanOf } from "./month";

test("months follow each other over the turn of a year", () => {
  expect(monthAfter("2026-11", 1)).toBe("2026-12");
  expect(monthAfter("2026-12", 1)).toBe("2027-01");
  expect(monthAfter("2026-01", -1)).toBe("2025-12");
});

test("whole weeks are shown, six where a month needs them", () => {
  expect(daysOf("2026-11")).toHaveLength(42);
  expect(daysOf("2026-09")).toHaveLength(35);
  for (const month of ["2026-02", "2026-11", "2027-05"]) {
    const days = daysOf(month);
    expect(days[0]! <= `${month}-01` && days.at(-1)! >= `${month}-28`).toBe(true);
    expect(days.filter((d) => d.startsWith(month)).length).toBe(new Date(Number(month.slice(0, 4)), Number(month.slice(5)), 0).getDate());
  }
});

test("a month nobody can read is this one", () => {
  expect(asked(new URLSearchParams("month=2026-13"), [], "2026-11-25").month).toBe("2026-11");
  expect(asked(new URLSearchParams("month=2026-03"), [], "2026-11-25").month).toBe("2026-03");
});

test("the days begin and end in the person's zone", () => {
  expect(spanOf({ all: [] }, "wake_at", ["2026-11-02", "2026-11-03"], "America/New_York")).toEqual({
    all: [
      { field: "wake_at", is: "since", values: ["2026-11-02T05:00:00.000Z"] },
      { field: "wake_at", is: "before", values: ["2026-11-04T05:00:00.000Z"] },
    ],
  });
});
