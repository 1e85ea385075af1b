import { scaleTime } from "d3-scale";
import { dateFormat } from "../parts/dateFormat";

export type Placed<T> = { deal: T; x: number; row: number; late: boolean };

/** Days shown ahead of today. */
export const ahead = 182;

/** Width of a marker in the units of the picture. */
export const marker = 136;

const noon = (day: string) => new Date(`${day}T12:00:00`);

export type TimeAxis = { x: (day: string) => number; months: { x: number; label: string }[]; today: number; dayAt: (x: number) => string };

/** The time axis: late deals stand before the today edge, the rest by expected close; what is further off stands at the end. */
export function axis(today: string, width: number): TimeAxis {
  const start = noon(today);
  const end = new Date(start.getTime() + ahead * 86_400_000);
  const edge = marker + 8;
  const scale = scaleTime([start, end], [edge, width - marker]).clamp(true);
  const months = scale.ticks(6).filter((d) => d.getDate() === 1);
  return {
    today: edge,
    x: (day) => scale(noon(day)),
    months: months.map((d) => ({ x: scale(d), label: dateFormat("en-GB", { month: "short" }).format(d) })),
    dayAt: (x) => {
      const date = scale.invert(Math.max(edge, x));
      return `${date.getFullYear()}-${String(date.getMonth() + 1).padStart(2, "0")}-${String(date.getDate()).padStart(2, "0")}`;
    },
  };
}

/** Puts the deals of a lane in as few rows as keep markers apart. Late ones pile up before the today edge. */
export function place<T extends { expectedClose: string; late: boolean }>(deals: readonly T[], time: TimeAxis): Placed<T>[] {
  const ends: number[] = [];
  return [...deals]
    .sort((a, b) => a.expectedClose.localeCompare(b.expectedClose))
    .map((deal) => {
      const x = deal.late ? 0 : time.x(deal.expectedClose);
      const free = ends.findIndex((end) => end <= x);
      const row = free < 0 ? ends.length : free;
      ends[row] = x + marker + 4;
      return { deal, x, row, late: deal.late };
    });
}

/** Deals that are not among those listed: a week's by its first day, or late ones where there is none. */
export type Beside = { from: string | null; deals: number };

export type Gathered = { x: number; row: number; deals: number };

/**
 * Puts the deals of a full lane in columns of time, the largest of each first, and gathers what does not fit in a column, and who stands beside the list, into one marker:
 * a lane of ten thousand deals is as high and as quick as one of sixty.
 */
export function gather<T extends { expectedClose: string; late: boolean; amount: number }>(deals: readonly T[], time: TimeAxis, rows: number, beside: readonly Beside[] = []): { placed: Placed<T>[]; gathered: Gathered[] } {
  const columns = new Map<number, { deals: T[]; beside: number }>();
  const at = (day: string | null) => {
    const key = day === null ? -1 : Math.floor((time.x(day) - time.today) / (marker + 4));
    const column = columns.get(key) ?? { deals: [], beside: 0 };
    columns.set(key, column);
    return column;
  };
  for (const deal of deals) at(deal.late ? null : deal.expectedClose).deals.push(deal);
  for (const week of beside) at(week.from).beside += week.deals;
  const placed: Placed<T>[] = [];
  const gathered: Gathered[] = [];
  for (const [key, column] of columns) {
    const x = key < 0 ? 0 : time.today + key * (marker + 4);
    const sorted = column.deals.sort((a, b) => b.amount - a.amount);
    const all = sorted.length + column.beside;
    const shown = Math.min(all > rows ? rows - 1 : rows, sorted.length);
    sorted.slice(0, shown).forEach((deal, row) => placed.push({ deal, x, row, late: deal.late }));
    if (all > shown) gathered.push({ x, row: shown, deals: all - shown });
  }
  return { placed, gathered };
}

/** The day so many days on. */
export function later(day: string, days: number) {
  const date = new Date(`${day}T12:00:00Z`);
  date.setUTCDate(date.getUTCDate() + days);
  return date.toISOString().slice(0, 10);
}
