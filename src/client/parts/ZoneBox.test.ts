// @vitest-environment happy-dom
import { expect, test } from "vitest";
import { cityOf, offsetOf, zonesFor } from "./ZoneBox";

const winter = new Date("2026-01-15T12:00:00Z");

test("a zone's distance is said as of the day", () => {
  expect(offsetOf("UTC", winter)).toBe("UTC");
  expect(offsetOf("Europe/Oslo", winter)).toBe("UTC+1");
  expect(offsetOf("Europe/Oslo", new Date("2026-07-15T12:00:00Z"))).toBe("UTC+2");
  expect(offsetOf("America/St_Johns", winter)).toBe("UTC−3:30");
});

test("a zone is found by its city first, then by what it is part of", () => {
  expect(zonesFor("oslo")).toEqual(["Europe/Oslo"]);
  expect(zonesFor("new york")).toEqual(["America/New_York"]);
  expect(zonesFor("los")[0]).toBe("America/Los_Angeles");
  expect(zonesFor("america/new")).toContain("America/New_York");
  expect(zonesFor("nowhere")).toEqual([]);
});

test("a zone is found by its distance", () => {
  const found = zonesFor("utc+5:45");
  expect(found).toEqual(found.filter((z) => offsetOf(z) === "UTC+5:45"));
  expect(found.length).toBeGreaterThan(0);
});

test("a city stands as people say it", () => {
  expect([cityOf("America/New_York"), cityOf("UTC")]).toEqual(["New York", "UTC"]);
});
