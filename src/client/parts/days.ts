import { dateFormat } from "./dateFormat";

const dayMs = 86_400_000;

/** The day a moment falls on in a zone, as 2026-11-25. */
export const dayOf = (moment: string | number | Date, zone: string) => dateFormat("en-CA", { timeZone: zone, year: "numeric", month: "2-digit", day: "2-digit" }).format(new Date(moment));

/** So many days after a day; days have no zone. */
export const plusDays = (day: string, days: number) => new Date(Date.parse(`${day}T00:00:00Z`) + days * dayMs).toISOString().slice(0, 10);

/** The day so many days from today in a zone. */
export const inDays = (days: number, zone: string) => plusDays(dayOf(Date.now(), zone), days);

/** The Monday of a day's week. */
export const mondayOf = (day: string) => plusDays(day, -((new Date(`${day}T00:00:00Z`).getUTCDay() + 6) % 7));

/** The seven days of a week. */
export const week = (monday: string) => Array.from({ length: 7 }, (_, i) => plusDays(monday, i));

/** The moment a day begins in a zone. */
export function startOf(day: string, zone: string): Date {
  // The zone's distance from UTC at about that time; looked at twice, since it may change between.
  let at = Date.parse(`${day}T00:00:00Z`);
  for (let i = 0; i < 2; i++) at = Date.parse(`${day}T00:00:00Z`) - offset(at, zone);
  return new Date(at);
}

function offset(at: number, zone: string) {
  const parts = Object.fromEntries(dateFormat("en-US", { timeZone: zone, hourCycle: "h23", year: "numeric", month: "numeric", day: "numeric", hour: "numeric", minute: "numeric", second: "numeric" }).formatToParts(at).map((p) => [p.type, p.value]));
  return Date.UTC(+parts.year!, +parts.month! - 1, +parts.day!, +parts.hour!, +parts.minute!, +parts.second!) - Math.floor(at / 1000) * 1000;
}
