import { inDays } from "./days";
import { dateFormat } from "./dateFormat";

const two = (n: number) => String(n).padStart(2, "0");

/** A moment as a box for a day and a time has it, in a zone: 2026-11-25T09:30. */
export function toLocal(moment: Date, zone: string) {
  const parts = Object.fromEntries(dateFormat("en-CA", { timeZone: zone, hourCycle: "h23", year: "numeric", month: "2-digit", day: "2-digit", hour: "2-digit", minute: "2-digit" }).formatToParts(moment).map((p) => [p.type, p.value]));
  return `${parts.year}-${parts.month}-${parts.day}T${parts.hour}:${parts.minute}`;
}

/** The moment that a box for a day and a time says in a zone. */
export function fromLocal(text: string, zone: string): Date {
  const said = Date.parse(`${text}Z`);
  // The zone's distance from UTC at about that time; looked at twice, since it may change between.
  let at = said;
  for (let i = 0; i < 2; i++) at += said - Date.parse(`${toLocal(new Date(at), zone)}Z`);
  return new Date(at);
}

/** The moment at nine of a day of the person's. */
export const morningOf = (day: string, zone: string) => fromLocal(`${day}T09:00`, zone).toISOString();

/** So many days from now, at a full hour of the person's day. */
export const inDaysAt = (days: number, zone: string, hour = 9) => `${inDays(days, zone)}T${two(hour)}:00`;

/** The zone of the machine one sits at. */
export const machineZone = () => new Intl.DateTimeFormat().resolvedOptions().timeZone || "UTC";

/** Named beside a time where the person's zone is not the one of the machine they sit at; else nothing. */
export const zoneHint = (zone: string) => (machineZone() === zone ? undefined : `your zone, ${zone.replaceAll("_", " ")}`);
