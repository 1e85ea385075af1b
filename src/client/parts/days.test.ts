import { describe, expect, it } from "vitest";
import { byDay, dayOf, mondayOf, plusDays, startOf, week, type Item } from "./days";

const item = (at: string, until: string | null = null): Item => ({ kind: until ? "meeting" : "task", id: at, leadId: null, dealId: null, subject: "", who: "", at, until, ownerId: "", owner: "", done: false, repeat: null, urgent: false });

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
  it("hold what falls on them, and a long meeting on each", () => {
    const days = week("2026-11-23");
    const found = byDay([item("2026-11-24T23:30:00Z"), item("2026-11-26T09:00:00Z", "2026-11-27T10:00:00Z"), item("2026-11-25T09:00:00Z", "2026-11-25T23:00:00Z")], days, "Europe/Oslo");
    expect(days.map((d) => found.get(d)!.length)).toEqual([0, 0, 2, 1, 1, 0, 0]);
  });
});
