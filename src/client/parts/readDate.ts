import type { DateOrder } from "./form";
import { mondayOf, plusDays } from "./days";

type Asked = {
  /** Today in the person's zone, as 2026-11-25. */
  today: string;
  order: DateOrder;
  /** True where days behind us are meant: a year that is left out is the last one then, and "fri" is the last Friday. */
  past?: boolean;
};

const weekdays = ["mon", "tue", "wed", "thu", "fri", "sat", "sun"];
const longWeekdays = ["monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday"];
const months = ["january", "february", "march", "april", "may", "june", "july", "august", "september", "october", "november", "december"];
const numbers: Record<string, number> = { a: 1, an: 1, one: 1, two: 2, three: 3, four: 4, five: 5, six: 6, seven: 7, eight: 8, nine: 9, ten: 10, twelve: 12 };

const two = (n: number) => String(n).padStart(2, "0");

const lastOf = (year: number, month: number) => new Date(Date.UTC(year, month, 0)).getUTCDate();

/** The day of a year, month and day; undefined where no calendar has it. */
const dayAt = (year: number, month: number, day: number) => (month >= 1 && month <= 12 && day >= 1 && year >= 1900 && year <= 2200 && day <= lastOf(year, month) ? `${year}-${two(month)}-${two(day)}` : undefined);

const partsOf = (day: string) => day.split("-").map(Number) as [number, number, number];

const plusMonths = (day: string, by: number) => {
  const [y, m, d] = partsOf(day);
  const at = y * 12 + (m - 1) + by;
  const [year, month] = [Math.floor(at / 12), (at % 12) + 1];
  return dayAt(year, month, Math.min(d, lastOf(year, month)));
};

const plusWorkingDays = (day: string, by: number) => {
  let at = day;
  for (let left = Math.abs(by); left > 0; ) {
    at = plusDays(at, Math.sign(by));
    if (![0, 6].includes(new Date(`${at}T00:00:00Z`).getUTCDay())) left--;
  }
  return at;
};

const monthOf = (word: string) => (word.length < 3 ? 0 : months.findIndex((m) => m.startsWith(word.replace(/^sept$/, "sep"))) + 1);

// A year of two digits is one of this century.
const yearOf = (text: string) => (text.length <= 2 ? 2000 + Number(text) : Number(text));

/** Without a year: the next such day, or the last one where days behind us are meant. */
function nearest(month: number, day: number, { today, past }: Asked) {
  const year = Number(today.slice(0, 4));
  // 29 February may be years away.
  for (let i = 0; i < 9; i++) {
    const at = dayAt(past ? year - i : year + i, month, day);
    if (at && (past ? at <= today : at >= today)) return at;
  }
  return undefined;
}

function named(text: string, { today, past }: Asked): string | undefined {
  const plain: Record<string, () => string | undefined> = {
    today: () => today,
    tod: () => today,
    now: () => today,
    tomorrow: () => plusDays(today, 1),
    tom: () => plusDays(today, 1),
    yesterday: () => plusDays(today, -1),
    "next week": () => plusDays(mondayOf(today), 7),
    "last week": () => plusDays(mondayOf(today), -7),
    "next month": () => plusMonths(`${today.slice(0, 7)}-01`, 1),
    "end of month": () => `${today.slice(0, 7)}-${lastOf(...(partsOf(today).slice(0, 2) as [number, number]))}`,
    "end of the month": () => plain["end of month"]!(),
    "end of week": () => plusDays(mondayOf(today), 4),
    "end of the week": () => plusDays(mondayOf(today), 4),
    "end of year": () => `${today.slice(0, 4)}-12-31`,
    "end of the year": () => `${today.slice(0, 4)}-12-31`,
  };
  if (plain[text]) return plain[text]();
  const weekday = /^(?:(next|last|this|on) )?([a-z]{2,9})$/.exec(text);
  if (!weekday) return undefined;
  const [, which, word] = weekday;
  const at = longWeekdays.findIndex((w, i) => w.startsWith(word!) || weekdays[i] === word || (word === "tues" && i === 1) || (word === "thurs" && i === 3));
  if (at < 0) return undefined;
  const monday = mondayOf(today);
  if (which === "next") return plusDays(monday, 7 + at);
  if (which === "last") return plusDays(monday, at - 7);
  if (which === "this") return plusDays(monday, at);
  const here = plusDays(monday, at);
  return past ? (here < today ? here : plusDays(here, -7)) : here > today ? here : plusDays(here, 7);
}

function counted(text: string, { today }: Asked): string | undefined {
  const found = /^(?:(in|\+)\s*)?(\d{1,3}|[a-z]+)\s*(d|days?|w|weeks?|m|months?|y|years?|working days?|workdays?)(\s+ago)?$/.exec(text);
  if (!found) return undefined;
  const [, , amount, unit, ago] = found;
  const n = (numbers[amount!] ?? Number(amount)) * (ago ? -1 : 1);
  if (!Number.isFinite(n)) return undefined;
  if (unit!.startsWith("work")) return plusWorkingDays(today, n);
  if (unit!.startsWith("d")) return plusDays(today, n);
  if (unit!.startsWith("w")) return plusDays(today, 7 * n);
  return plusMonths(today, unit!.startsWith("y") ? 12 * n : n);
}

function spelled(text: string, asked: Asked): string | undefined {
  const found = /^(?:(\d{1,2})(?:st|nd|rd|th)?\.? ?([a-z]{3,9})|([a-z]{3,9})\.? ?(\d{1,2})(?:st|nd|rd|th)?)\.?,?(?: ?'?(\d{4}|\d{2}))?$/.exec(text);
  if (!found) return undefined;
  const [, d1, m1, m2, d2, year] = found;
  const [month, day] = [monthOf(m1 ?? m2!), Number(d1 ?? d2)];
  if (!month) return undefined;
  return year ? dayAt(yearOf(year), month, day) : nearest(month, day, asked);
}

function written(text: string, asked: Asked): string | undefined {
  const iso = /^(\d{4})[-/.](\d{1,2})[-/.](\d{1,2})$/.exec(text);
  if (iso) return dayAt(Number(iso[1]), Number(iso[2]), Number(iso[3]));
  const one = /^(\d{1,2})\.?$/.exec(text);
  if (one) return dayOfMonth(Number(one[1]), asked);
  const found = /^(\d{1,2})[./ -](\d{1,2})(?:[./ -](\d{4}|\d{2})?)?$/.exec(text);
  if (!found) return undefined;
  const [a, b] = [Number(found[1]), Number(found[2])];
  // A full stop stands between a day and a month in that order everywhere it is written so.
  const dayFirst = asked.order === "dayFirst" || text.includes(".");
  const at = (day: number, month: number) => (found[3] ? dayAt(yearOf(found[3]), month, day) : nearest(month, day, asked));
  if (dayFirst) return b > 12 && a <= 12 && !text.includes(".") ? at(b, a) : at(a, b);
  return a > 12 && b <= 12 ? at(a, b) : at(b, a);
}

// "15": of this month, or of the next one that has such a day.
function dayOfMonth(day: number, { today, past }: Asked) {
  const [y, m] = partsOf(today);
  for (let i = 0; i < 3; i++) {
    const at = y * 12 + (m - 1) + (past ? -i : i);
    const found = dayAt(Math.floor(at / 12), (at % 12) + 1, day);
    if (found && (past ? found <= today : found >= today)) return found;
  }
  return undefined;
}

const weekdayOf = (day: string) => (new Date(`${day}T00:00:00Z`).getUTCDay() + 6) % 7;

// A weekday before a whole date only repeats it; where it contradicts the date, neither is meant.
function beforeDate(text: string): [number | undefined, string] {
  const found = /^([a-z]{3,9}),? (?=\d+[^\d]|[a-z]{3,9} \d)/.exec(text);
  const at = found ? longWeekdays.findIndex((w) => w.startsWith(found[1]!)) : -1;
  return at < 0 ? [undefined, text] : [at, text.slice(found![0].length)];
}

/** The day a text means, as 2026-11-25: "fri", "in 3 weeks", "15.1.", "15 Jan", "end of month". Undefined where it means none that a calendar has. */
export function readDay(text: string, asked: Asked): string | undefined {
  const clean = text.trim().toLowerCase().replace(/\s+/g, " ");
  const [weekday, rest] = beforeDate(clean);
  const found = named(clean, asked) ?? counted(clean, asked) ?? spelled(rest, asked) ?? written(rest, asked);
  return found && weekday !== undefined && weekdayOf(found) !== weekday ? undefined : found;
}

/** The time of day a text means, as 09:30: "9", "930", "9.30", "2 pm", "noon". Undefined where it means none. */
export function readTime(text: string): string | undefined {
  const clean = text.trim().toLowerCase().replace(/^at /, "");
  if (clean === "noon" || clean === "midday") return "12:00";
  if (clean === "midnight") return "00:00";
  const found = /^(\d{1,2})(?:[:.h ]?(\d{2}))?\s*(?:o'?clock|h)?\s*(am|pm|a\.m\.|p\.m\.)?$/.exec(clean);
  if (!found) return undefined;
  const [hours, minutes, half] = [Number(found[1]), Number(found[2] ?? 0), found[3]?.[0]];
  if (half && (hours < 1 || hours > 12)) return undefined;
  const hour = half ? (hours % 12) + (half === "p" ? 12 : 0) : hours;
  return hour <= 23 && minutes <= 59 ? `${two(hour)}:${two(minutes)}` : undefined;
}

/** The day and time a text means, as 2026-11-25T09:30: "fri 14", "tomorrow 9:30", "15.1. 2 pm". A day alone has the time `usual`. */
export function readMoment(text: string, asked: Asked, usual = "09:00"): string | undefined {
  const clean = text.trim().replace(/\s+/g, " ");
  const iso = /^(\d{4}-\d{2}-\d{2})[T ](\d{2}:\d{2})$/.exec(clean);
  if (iso && readDay(iso[1]!, asked) && readTime(iso[2]!)) return `${iso[1]}T${iso[2]}`;
  const whole = readDay(clean, asked);
  if (whole) return `${whole}T${usual}`;
  const words = clean.split(" ");
  for (const last of [1, 2]) {
    const [day, time] = [words.slice(0, -last).join(" ").replace(/,? at$|,$/, ""), words.slice(-last).join(" ")];
    const [on, at] = [readDay(day, asked), readTime(time)];
    if (on && at) return `${on}T${at}`;
  }
  return undefined;
}

const short = (month: number) => months[month - 1]!.charAt(0).toUpperCase() + months[month - 1]!.slice(1, 3);

/** A day as the person writes it; {@link readDay} reads it back as the same day. */
export function writeDay(iso: string, order: DateOrder): string {
  const [y, m, d] = partsOf(iso);
  return order === "yearFirst" ? iso : order === "monthFirst" ? `${short(m)} ${d}, ${y}` : `${d} ${short(m)} ${y}`;
}

/** A moment as the person writes it: 15 Jan 2027 09:30. */
export const writeMoment = (iso: string, order: DateOrder) => `${writeDay(iso.slice(0, 10), order)} ${iso.slice(11, 16)}`;
