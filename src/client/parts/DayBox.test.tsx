// @vitest-environment happy-dom
import { useEffect, useState } from "react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { box, clear, draw, key, leave, redraw, said, write } from "../testing/render";
import { DayBox, MomentBox } from "./DayBox";
import { setForm } from "./form";
import { TimeBox } from "./TimeBox";
import { useAnyUnread } from "./unread";

const seen = { value: "", unread: false };

function Page({ Box, start }: { Box: typeof DayBox; start: string }) {
  const [now, setNow] = useState(start);
  const unread = useAnyUnread();
  useEffect(() => void Object.assign(seen, { value: now, unread }));
  return <Box label="By" value={now} onChange={setNow} />;
}

beforeEach(() => {
  vi.useFakeTimers({ now: Date.UTC(2026, 11, 1, 9), toFake: ["Date"] });
  setForm({ zone: "Europe/Oslo", dates: "dayFirst" });
});

afterEach(async () => {
  await clear();
  vi.useRealTimers();
});

test("a day is typed as people write it, and says at once which one is meant", async () => {
  await draw(<Page Box={DayBox} start="" />);
  await write("By", "fri");
  expect(seen.value).toBe("2026-12-04");
  expect(said()).toContain("Fri 4 Dec 2026");
  await write("By", "in 3 weeks");
  expect(seen.value).toBe("2026-12-22");
  await leave("By");
  expect(box("By").value).toBe("22 Dec 2026");
});

test("figures are read in the person's order", async () => {
  await draw(<Page Box={DayBox} start="" />);
  await write("By", "4/12");
  expect(seen.value).toBe("2026-12-04");
  setForm({ zone: "Europe/Oslo", dates: "monthFirst" });
  await redraw(<Page Box={DayBox} start="" />);
  await write("By", "4/12/2027");
  expect(seen.value).toBe("2027-04-12");
});

test("what is no day is no value, is said when the box is left, and keeps every form waiting", async () => {
  await draw(<Page Box={DayBox} start="2026-12-04" />);
  await write("By", "31 feb");
  expect(seen.value).toBe("");
  expect(seen.unread).toBe(true);
  expect(said()).not.toContain("no day");
  await leave("By");
  expect(said()).toContain("This is no day a calendar has");
  expect(box("By").value).toBe("31 feb");
  await write("By", "");
  expect(seen.unread).toBe(false);
  expect(said()).not.toContain("no day");
});

test("arrows step by a day, page keys by a week", async () => {
  await draw(<Page Box={DayBox} start="2026-12-30" />);
  await key(box("By"), "ArrowUp");
  await key(box("By"), "ArrowUp");
  expect(seen.value).toBe("2027-01-01");
  await key(box("By"), "PageDown");
  expect(seen.value).toBe("2026-12-25");
});

test("a moment keeps its time of day when only the day is written anew", async () => {
  await draw(<Page Box={MomentBox} start="2026-12-04T14:30" />);
  await write("By", "mon");
  expect(seen.value).toBe("2026-12-07T14:30");
  await write("By", "tomorrow 9");
  expect(seen.value).toBe("2026-12-02T09:00");
});

test("a time of day is read from a bare hour and from the clock of twelve", async () => {
  await draw(<Page Box={TimeBox as typeof DayBox} start="" />);
  await write("By", "2 pm");
  expect(seen.value).toBe("14:00");
  await write("By", "9");
  expect(seen.value).toBe("09:00");
  await write("By", "25");
  expect(seen.value).toBe("");
  expect(said()).toContain("This is no time of day");
});
