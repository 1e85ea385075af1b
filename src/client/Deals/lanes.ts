import { scaleTime } from "d3-scale";

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
    months: months.map((d) => ({ x: scale(d), label: new Intl.DateTimeFormat("en-GB", { month: "short" }).format(d) })),
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
