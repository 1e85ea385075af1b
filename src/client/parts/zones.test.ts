import { expect, test } from "vitest";
import { fromLocal, inDaysAt, toLocal } from "./zones";

test("a time is the person's, whatever the machine's zone is", () => {
  expect(fromLocal("2026-12-01T09:00", "America/New_York").toISOString()).toBe("2026-12-01T14:00:00.000Z");
  expect(fromLocal("2026-07-01T09:00", "Europe/Oslo").toISOString()).toBe("2026-07-01T07:00:00.000Z");
  expect(toLocal(new Date("2026-12-01T14:00:00Z"), "America/New_York")).toBe("2026-12-01T09:00");
});

test("what is written is read back, over the changes of the clocks too", () => {
  for (const zone of ["Europe/Oslo", "America/New_York", "Australia/Lord_Howe", "Asia/Kolkata", "UTC"])
    for (let day = 0; day < 366; day++) {
      const text = `${new Date(Date.UTC(2026, 0, 1 + day)).toISOString().slice(0, 10)}T13:30`;
      expect(toLocal(fromLocal(text, zone), zone)).toBe(text);
    }
});

test("tomorrow at nine is nine where the person is", () => {
  expect(inDaysAt(1, "Asia/Tokyo")).toMatch(/T09:00$/);
});
