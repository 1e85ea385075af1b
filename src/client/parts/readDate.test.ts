import { describe, expect, test } from "vitest";
import type { DateOrder } from "./form";
import { plusDays } from "./days";
import { readDay, readMoment, readTime, writeDay, writeMoment } from "./readDate";

// A Wednesday.
const today = "2026-11-25";
const day = (text: string, order: DateOrder = "dayFirst", past = false) => readDay(text, { today, order, past });

describe("a day", () => {
  test.each([
    ["today", "2026-11-25"],
    ["Tomorrow", "2026-11-26"],
    ["yesterday", "2026-11-24"],
    ["fri", "2026-11-27"],
    ["friday", "2026-11-27"],
    ["on mon", "2026-11-30"],
    ["wed", "2026-12-02"],
    ["next fri", "2026-12-04"],
    ["this fri", "2026-11-27"],
    ["last fri", "2026-11-20"],
    ["in 3 weeks", "2026-12-16"],
    ["3w", "2026-12-16"],
    ["+3 d", "2026-11-28"],
    ["in a month", "2026-12-25"],
    ["two months", "2027-01-25"],
    ["5 days ago", "2026-11-20"],
    ["3 working days", "2026-11-30"],
    ["next week", "2026-11-30"],
    ["next month", "2026-12-01"],
    ["end of month", "2026-11-30"],
    ["15.1.", "2027-01-15"],
    ["15.1", "2027-01-15"],
    ["15/1", "2027-01-15"],
    ["28.11.", "2026-11-28"],
    ["15.1.2026", "2026-01-15"],
    ["15-1-26", "2026-01-15"],
    ["2026-01-15", "2026-01-15"],
    ["15 Jan", "2027-01-15"],
    ["Jan 15", "2027-01-15"],
    ["15th of", undefined],
    ["15 january 2028", "2028-01-15"],
    ["January 15th, 2028", "2028-01-15"],
    ["Fri 15 Jan 2027", "2027-01-15"],
    ["Thu 15 Jan 2027", undefined],
    ["27", "2026-11-27"],
    ["3", "2026-12-03"],
    ["29.2.", "2028-02-29"],
    ["31.2.", undefined],
    ["31 Jun 2027", undefined],
    ["13.13.", undefined],
    ["in fish weeks", undefined],
    ["never", undefined],
    ["", undefined],
  ])("%s is %s", (text, expected) => expect(day(text)).toBe(expected));

  test("the order of its parts is the person's, where both readings are days", () => {
    expect(day("3/4", "dayFirst")).toBe("2027-04-03");
    expect(day("3/4", "monthFirst")).toBe("2027-03-04");
    expect(day("3-4", "yearFirst")).toBe("2027-03-04");
    expect(day("25/12", "monthFirst")).toBe("2026-12-25");
    expect(day("12/25", "dayFirst")).toBe("2026-12-25");
    expect(day("3.4.", "monthFirst")).toBe("2027-04-03");
  });

  test("where days behind us are meant, the last such day is", () => {
    expect(day("fri", "dayFirst", true)).toBe("2026-11-20");
    expect(day("15.1.", "dayFirst", true)).toBe("2026-01-15");
    expect(day("27", "dayFirst", true)).toBe("2026-10-27");
  });

  test("is read back from how it is written, in each order, whatever day it is", () => {
    for (const order of ["dayFirst", "monthFirst", "yearFirst"] as const)
      for (let i = 0; i < 900; i += 7) {
        const at = plusDays("2024-01-01", i);
        expect(day(writeDay(at, order), order)).toBe(at);
        expect(readMoment(writeMoment(`${at}T16:05`, order), { today, order })).toBe(`${at}T16:05`);
      }
  });
});

describe("a time", () => {
  test.each([
    ["9", "09:00"],
    ["930", "09:30"],
    ["0930", "09:30"],
    ["9.30", "09:30"],
    ["9h30", "09:30"],
    ["14:05", "14:05"],
    ["2pm", "14:00"],
    ["12 am", "00:00"],
    ["12 pm", "12:00"],
    ["2:15 p.m.", "14:15"],
    ["noon", "12:00"],
    ["24", undefined],
    ["9:60", undefined],
    ["13 pm", undefined],
    ["soon", undefined],
  ])("%s is %s", (text, expected) => expect(readTime(text)).toBe(expected));
});

describe("a moment", () => {
  const at = (text: string) => readMoment(text, { today, order: "dayFirst" });
  test.each([
    ["fri 14", "2026-11-27T14:00"],
    ["tomorrow 9:30", "2026-11-26T09:30"],
    ["15.1. 2 pm", "2027-01-15T14:00"],
    ["15 Jan 2027 at 9:30", "2027-01-15T09:30"],
    ["in 3 weeks", "2026-12-16T09:00"],
    ["2026-11-27T08:15", "2026-11-27T08:15"],
    ["fri 25", undefined],
    ["9:30", undefined],
  ])("%s is %s", (text, expected) => expect(at(text)).toBe(expected));
});
