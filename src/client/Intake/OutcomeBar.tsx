import styled from "styled-components";
import type { Schema } from "../api/client";
import { whole } from "../parts/format";

const tint = (share: number) => `color-mix(in srgb, var(--slate) ${share}%, var(--sheet))`;

/** What a row becomes, in the order of the bar. */
export const outcomes = [
  { key: "new", label: "new", color: "var(--slate)" },
  { key: "contact", label: "of a contact", color: tint(78) },
  { key: "account", label: "from an account", color: tint(60) },
  { key: "adds", label: "to known leads", color: tint(42) },
  { key: "duplicate", label: "duplicate in the file", color: tint(26) },
  { key: "mend", label: "to mend", color: "var(--lamp)" },
  { key: "barred", label: "barred", color: "var(--bad)" },
] as const;

export type OutcomeKey = (typeof outcomes)[number]["key"];

/** Rows that become or add to a lead. */
export const takeable = (c: Schema["SiftCounts"]) => c.new + c.contact + c.account + c.adds + c.duplicate;

/** The counts in words, what there is none of left out. */
export const inWords = (c: Schema["SiftCounts"]) =>
  outcomes
    .filter((o) => c[o.key] > 0)
    .map((o) => `${whole(c[o.key])} ${o.label}`)
    .join(", ");

const Bar = styled.div`
  display: flex;
  gap: 2px;
  width: 100%;
`;

const Part = styled.span<{ $height: number; $pressed: boolean }>`
  display: block;
  forced-color-adjust: none;
  ${(p) => p.$pressed && "cursor: pointer;"}
  height: ${(p) => p.$height}px;
  border-radius: 1px;
  min-width: 3px;
`;

/** An import's rows divided by outcome. */
export function OutcomeBar({ counts, height = 10, onChoose }: { counts: Schema["SiftCounts"]; height?: number; onChoose?: (outcome: string) => void }) {
  return (
    <Bar role="img" aria-label={`${whole(counts.read)} rows: ${inWords(counts)}`}>
      {outcomes.map((o) => counts[o.key] > 0 && <Part key={o.key} $height={height} $pressed={!!onChoose} style={{ flex: counts[o.key], background: o.color }} onClick={onChoose && (() => onChoose(o.key))} />)}
    </Bar>
  );
}
