import { describe, expect, it } from "vitest";
import { week } from "../parts/days";
import { byDay, type Item } from "./byDay";

const item = (at: string, until: string | null = null): Item => ({ kind: until ? "meeting" : "task", id: at, leadId: null, dealId: null, subject: "", who: "", at, until, ownerId: "", owner: "", done: false, repeat: null, urgent: false });

describe("items under their days", () => {
  it("hold what falls on them, and a long meeting on each", () => {
    const days = week("2026-11-23");
    const found = byDay([item("2026-11-24T23:30:00Z"), item("2026-11-26T09:00:00Z", "2026-11-27T10:00:00Z"), item("2026-11-25T09:00:00Z", "2026-11-25T23:00:00Z")], days, "Europe/Oslo");
    expect(days.map((d) => found.get(d)!.length)).toEqual([0, 0, 2, 1, 1, 0, 0]);
  });
});
