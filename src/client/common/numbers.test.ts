import { expect, test } from "vitest";
import { asPlain, plainNumber, shown } from "./numbers";

test("a text that can be read in two ways is no plain number", () => {
  for (const text of ["12,000", "12.000", "1,250", "1.234,50", "12 000", "", "twelve"]) expect(plainNumber(text)).toBeNaN();
  expect([plainNumber("12000"), plainNumber("12.5"), plainNumber("-3"), plainNumber("0.125"), plainNumber(" 7 ")]).toEqual([12000, 12.5, -3, 0.125, 7]);
});

test("what is written plainly has one reading again", () => {
  for (let i = -20_000; i <= 20_000; i += 7)
    for (const places of [1, 10, 100, 1000, 10_000]) {
      const value = i / places;
      expect(plainNumber(asPlain(value))).toBe(value);
    }
});

test("a number is shown with thin gaps", () => {
  expect([shown(12000), shown(-1250.5), shown(0.125)]).toEqual(["12\u202f000", "\u22121\u202f250.5", "0.125"]);
});
