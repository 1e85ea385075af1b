import { describe, expect, it } from "vitest";
import { dayOf, mondayOf, plusDays, startOf, week } from "./days";

describe("days", () => {
  it("begin at midnight where one lives, whatever the clocks do", () => {
    expect(startOf("2026-11-25", "Europe/Oslo").toISOString()).toBe("2026-11-24T23:00:00.000Z");
    expect(startOf("2026-07-01", "America/New_York").toISOString()).toBe("2026-07-01T04:00:00.000Z");
    for (const day of ["2026-03-29", "2026-10-25", "2026-03-08", "2026-11-01"]) for (const zone of ["Europe/Oslo", "America/New_York", "UTC", "Asia/Kolkata"]) expect(dayOf(startOf(day, zone), zone)).toBe(day);
  });
  it("count on over months and years", () => {
    expect(plusDays("2026-12-31", 1)).toBe("2027-01-01");
    expect(plusDays("2028-02-28", 1)).toBe("2028-02-29");
  });
  it("make weeks from Monday", () => {
    expect(mondayOf("2026-11-25")).toBe("2026-11-23");
    expect(mondayOf("2026-11-23")).toBe("2026-11-23");
    expect(mondayOf("2026-11-29")).toBe("2026-11-23");
    expect(week("2026-11-23")).toHaveLength(7);
  });
});
