import { localeOf, personForm } from "./form";
import { dateFormat } from "./dateFormat";

const thin = "\u202f";
const grouped = new Intl.NumberFormat("en-GB", { maximumFractionDigits: 0 });

/** Whole number with thin grouping: 1 204. */
export const whole = (value: number) => grouped.format(value).replaceAll(",", thin);

const signs: Record<string, string> = { EUR: "€", GBP: "£", USD: "$" };

/** The sign of a currency; its code where it has none of its own. */
export const currencySign = (currency: string) => signs[currency] ?? currency;

/** Money, rounded to the unit: € 84 600; NOK 12 000. */
export const money = (value: number, currency: string) => `${currencySign(currency)}${thin}${whole(value)}`;

/** Several in words: a, b and c. */
export const listed = (words: readonly string[]) => (words.length < 2 ? (words[0] ?? "") : `${words.slice(0, -1).join(", ")} and ${words.at(-1)}`);

/** The first letter large. */
export const begun = (words: string) => words.charAt(0).toUpperCase() + words.slice(1);

/** A share of 1 in hundredths: 12 %. */
export const percent = (share: number) => `${Math.round(share * 100)} %`;

/** Points with their sign: +30, −5. */
export const points = (value: number, places = 0) => (value < 0 ? `\u2212${(-value).toFixed(places)}` : `+${value.toFixed(places)}`);

const noon = (day: string) => new Date(`${day}T12:00:00Z`);

// Words in the order the person writes them; a date in figures only where the year comes first.
const inOrder = (options: Intl.DateTimeFormatOptions) => dateFormat(localeOf(personForm().dates) === "en-US" ? "en-US" : "en-GB", options);

/** A calendar day: 18 Mar, with the year when it is another one. A moment is shown as its day in the person's zone, a day as that day in every zone. */
export function day(value: string, now = new Date(), zone = personForm().zone) {
  const [date, timeZone] = value.length === 10 ? [noon(value), "UTC"] : [new Date(value), zone];
  const yearOf = (d: Date) => dateFormat("en-GB", { timeZone, year: "numeric" }).format(d);
  if (personForm().dates === "yearFirst") return dateFormat("sv-SE", { timeZone, year: "numeric", month: "2-digit", day: "2-digit" }).format(date);
  return inOrder({ timeZone, day: "numeric", month: "short", year: yearOf(date) === yearOf(now) ? undefined : "numeric" }).format(date);
}

/** A calendar day with its weekday and year: Fri 3 Apr 2026. */
export const spelled = (value: string) => inOrder({ timeZone: "UTC", weekday: "short", day: "numeric", month: "short", year: "numeric" }).format(noon(value)).replace(",", "");

/** A moment in a story: "today 9:40" and weekdays within 7 days, else the day. */
export function moment(value: string, zone: string, now = new Date()) {
  const date = new Date(value);
  const form = (options: Intl.DateTimeFormatOptions) => inOrder({ timeZone: zone, hourCycle: "h23", ...options }).format(date);
  const dayOf = (d: Date) => dateFormat("en-CA", { timeZone: zone }).format(d);
  const time = form({ hour: "numeric", minute: "2-digit" });
  if (dayOf(date) === dayOf(now)) return `today ${time}`;
  const age = now.getTime() - date.getTime();
  if (Math.abs(age) < 7 * 86_400_000) return `${form({ weekday: "short", day: "numeric", month: "short" }).replace(",", "")}`;
  return day(value, now, zone);
}

/** The exact moment, for hovering. */
export const exact = (value: string, zone: string) =>
  inOrder({ timeZone: zone, dateStyle: "full", timeStyle: "short", hourCycle: "h23" }).format(new Date(value));

/** Working time left: 2 h 10, 25 min; what is over says so. */
export function left(minutes: number) {
  const m = Math.abs(minutes);
  const text = m >= 60 ? `${Math.floor(m / 60)} h ${String(m % 60).padStart(2, "0")}` : `${m} min`;
  return minutes < 0 ? `${text} over` : text;
}

/** "1 lead", "2 leads". */
export const count = (n: number, one: string, many = `${one}s`) => `${whole(n)} ${n === 1 ? one : many}`;

/** A size in bytes as people say it: 312 KB, 4.1 MB. */
export const bytes = (size: number) => (size < 1000 ? `${size} B` : size < 999_500 ? `${Math.round(size / 1000)} KB` : `${(size / 1e6).toFixed(1)} MB`);

const regions = new Intl.DisplayNames(["en"], { type: "region" });

/** A country's name by its ISO 3166 code; the code itself where it is none. */
export const countryName = (code: string) => {
  try {
    return regions.of(code) ?? code;
  } catch {
    return code;
  }
};
