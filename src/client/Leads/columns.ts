import type { Schema } from "../api/client";
import type { Field } from "../Conditions/conditions";
import type { Column } from "./work";

export type Item = Schema["LeadListItem"];

/** Pixels between columns, and the width of the lamp. */
export const gap = 14;
const lamp = 32;
const leastName = 180;
/** The least width a column is dragged to. */
export const leastWidth = 60;

// How wide a column wants to be when nobody says: its least width, and its share of the width that is left.
const wanted: Record<string, [number, number]> = { next_move: [96, 0], clock_due_at: [84, 0], state: [84, 0], fit: [52, 0], engagement: [92, 0], silent_days: [84, 0], calls: [56, 0], country: [104, 0.5], wants: [130, 1], company: [140, 1] };

const widthOf = (column: Column, field?: Field): [number, number] =>
  column.width ? [column.width, 0] : (wanted[column.field] ?? (field?.type === "number" || field?.type === "money" ? [84, 0] : field?.type === "date" ? [92, 0.3] : [104, 0.8]));

/** The grid template of the rows, and the least width at which nothing is squeezed. */
export function template(columns: Column[], fields: Field[]): [string, number] {
  const widths = columns.map((c) => widthOf(c, fields.find((f) => f.key === c.field)));
  const tracks = widths.map(([least, share]) => (share === 0 ? `${least}px` : `minmax(${least}px, ${share}fr)`));
  return [[`${lamp}px`, `minmax(${leastName}px, 1.3fr)`, ...tracks].join(" "), lamp + leastName + widths.reduce((sum, [least]) => sum + least + gap, 0) + gap + 36];
}
