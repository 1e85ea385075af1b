import { allOf, type Condition, type Field } from "../Conditions/conditions";
import type { Schema } from "../api/client";
import { mondayOf, plusDays, startOf } from "../parts/days";

/** The month so many after another, as 2026-11. */
export const monthAfter = (month: string, by: number) => {
  const [y, m] = month.split("-").map(Number);
  return new Date(Date.UTC(y!, m! - 1 + by, 1)).toISOString().slice(0, 7);
};

/** The days of the whole weeks that a month touches: five weeks, or six where it needs them. */
export function daysOf(month: string): string[] {
  const first = mondayOf(`${month}-01`);
  return Array.from({ length: 42 }, (_, i) => plusDays(first, i)).filter((_, i, all) => i < 35 || all[35]! < `${monthAfter(month, 1)}-01`);
}

/** The date the month goes by, and the month, as the address bar says them. */
export function asked(params: URLSearchParams, dates: Field[], today: string) {
  const by = dates.find((f) => f.key === params.get("by")) ?? dates.find((f) => f.key === "next_step_at") ?? dates[0];
  const month = params.get("month");
  return { by: by?.key ?? "created_at", label: by?.label ?? "", month: month && /^\d{4}-(0[1-9]|1[0-2])$/.test(month) ? month : today.slice(0, 7) };
}

/** The condition with the date within these days. */
export const spanOf = (where: Condition, by: string, days: string[], zone: string): Condition =>
  allOf([where, { field: by, is: "since", values: [startOf(days[0]!, zone).toISOString()] }, { field: by, is: "before", values: [startOf(plusDays(days.at(-1)!, 1), zone).toISOString()] }]);

export type DayCount = { where: Condition | null; count: number };

/** How many leads there are on each day, with the condition that finds them. */
export const countsOf = (groups: Schema["GroupsView"] | undefined): Map<string | undefined, DayCount> =>
  new Map(groups?.rows.map((r, i) => [r.key?.slice(0, 10), { where: r.where as Condition | null, count: groups.cells.filter((c) => c.row === i).reduce((n, c) => n + c.count, 0) }]));
