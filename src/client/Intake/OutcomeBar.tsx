import styled from "styled-components";
import type { Schema } from "../api/client";
import { whole } from "../parts/format";

export const outcomes = [
  { key: "new", count: "new", label: "new", color: "var(--slate)" },
  { key: "adds", count: "adds", label: "add to known leads", color: "color-mix(in srgb, var(--slate) 45%, var(--sheet))" },
  { key: "aside", count: "aside", label: "set aside", color: "var(--lamp)" },
] as const;

const Bar = styled.div`
  display: flex;
  gap: 2px;
  width: 100%;
`;

const Part = styled.span<{ $height: number }>`
  display: block;
  height: ${(p) => p.$height}px;
  border-radius: 1px;
  min-width: 3px;
`;

/** A delivery's rows divided by outcome. */
export function OutcomeBar({ counts, height = 10, onChoose }: { counts: Schema["SiftCounts"]; height?: number; onChoose?: (outcome: string) => void }) {
  const words = outcomes.map((o) => `${whole(counts[o.count])} ${o.label}`).join(", ");
  return (
    <Bar role="img" aria-label={`${whole(counts.read)} rows: ${words}`}>
      {outcomes.map((o) => counts[o.count] > 0 && <Part key={o.key} $height={height} style={{ flex: counts[o.count], background: o.color, cursor: onChoose && "pointer" }} onClick={onChoose && (() => onChoose(o.key))} />)}
    </Bar>
  );
}
