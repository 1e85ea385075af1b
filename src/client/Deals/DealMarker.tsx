import type { KeyboardEvent } from "react";
import styled from "styled-components";
import type { Schema } from "../api/client";
import { money } from "../parts/format";
import { small } from "../parts/theme";
import { marker, type Placed } from "./lanes";

type Deal = Schema["DealItem"];

const Marker = styled.button<{ $late: boolean; $on: boolean; $weight: number }>`
  position: absolute;
  width: ${marker}px;
  height: 38px;
  padding: 2px 8px 2px 14px;
  text-align: left;
  border: 1px solid ${(p) => (p.$on ? "var(--slate)" : "var(--hair)")};
  border-radius: 3px;
  background: var(--sheet);
  box-shadow: ${(p) => (p.$on ? "var(--float)" : "none")};
  font-size: 13px;
  line-height: 1.3;
  cursor: grab;
  overflow: hidden;
  white-space: nowrap;
  text-overflow: ellipsis;
  /* Amount is how far the mark at the left is filled, not the length: a length would read as a duration. */
  &::before {
    content: "";
    position: absolute;
    left: 0;
    bottom: 0;
    width: 6px;
    height: ${(p) => p.$weight}%;
    background: ${(p) => (p.$late ? "var(--bad)" : "var(--slate)")};
  }
  small {
    ${small}
    font-size: 12px;
    display: block;
    color: ${(p) => (p.$late ? "var(--bad)" : "var(--soft)")};
  }
  &:hover {
    border-color: var(--mark);
  }
`;

/** In pixels, from one row of markers in a lane to the next, and above the first. */
export const rowHeight = 42;
export const aboveFirst = 8;

export type MarkerActs = {
  onOpen: (id: string) => void;
  onGrab: (deal: Deal, grab: number) => void;
  onKey: (deal: Deal, e: KeyboardEvent) => void;
};

type MarkerProps = MarkerActs & { placed: Placed<Deal>; most: number; isOn: boolean; isHeld: boolean; mayMove: boolean };

/** One deal at its expected close. */
export function DealMarker({ placed: { deal, x, row, late }, most, isOn, isHeld, mayMove, onOpen, onGrab, onKey }: MarkerProps) {
  return (
    <Marker
      type="button"
      $late={late}
      $on={isOn || isHeld}
      aria-pressed={isHeld || undefined}
      $weight={Math.max(8, Math.sqrt(deal.amount / most) * 100)}
      style={{ left: x, top: aboveFirst + row * rowHeight }}
      title={`${deal.name}, ${money(deal.amount, deal.currency)}`}
      draggable={mayMove}
      onDragStart={(e) => onGrab(deal, e.clientX - e.currentTarget.getBoundingClientRect().left)}
      onClick={() => onOpen(deal.id)}
      data-deal={deal.id}
      onKeyDown={(e) => onKey(deal, e)}
    >
      {deal.accountName ?? deal.contactName}
      <small>
        {money(deal.amount, deal.currency)}
        {deal.ownProbability && `, ${deal.probability} %`}
        {deal.slow && !late && ", slow"}
      </small>
    </Marker>
  );
}
