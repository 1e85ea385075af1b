import type { Schema } from "../api/client";
import { dayOf } from "../parts/days";

export type Item = Schema["FollowUpView"];

/** Items under the days they touch: a meeting over two days stands on both. */
export function byDay(items: Item[], days: string[], zone: string): Map<string, Item[]> {
  const found = new Map(days.map((d) => [d, [] as Item[]]));
  for (const item of items) {
    const first = dayOf(item.at, zone);
    const last = item.until ? dayOf(Date.parse(item.until) - 1, zone) : first;
    for (const day of days) if (day >= first && day <= (last < first ? first : last)) found.get(day)!.push(item);
  }
  return found;
}
