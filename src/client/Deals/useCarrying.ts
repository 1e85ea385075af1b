import { useLayoutEffect, useMemo, useRef, useState, type KeyboardEvent } from "react";
import type { Schema } from "../api/client";
import { later } from "./lanes";

type Deal = Schema["DealItem"];
type Stage = Schema["StageView"];

export type Change = { stage?: string; expectedClose?: string };

/** A deal that is held by keyboard, with where it would be put. */
type Held = { deal: Deal; stage: string; closes: string };

const week = 7;

const keysOf = (stages: Stage[]): Record<string, (held: Held) => Held> => {
  const across = (by: number) => (held: Held) => {
    const at = stages.findIndex((s) => s.key === held.stage) + by;
    return { ...held, stage: stages[Math.min(stages.length - 1, Math.max(0, at))]!.key };
  };
  const along = (by: number) => (held: Held) => ({ ...held, closes: later(held.closes, by) });
  return { ArrowDown: across(1), ArrowUp: across(-1), ArrowRight: along(week), ArrowLeft: along(-week) };
};

/** Carries a deal by keyboard: m takes it up, the arrows carry it, Enter puts it down and Escape leaves it where it was. `shown` are the deals as they would stand. */
export function useCarrying(view: Schema["DealsView"], stages: Stage[], mayMove: boolean, onMove: (deal: Deal, change: Change) => void) {
  const [held, setHeld] = useState<Held>();
  // Carried to another lane a marker is drawn anew, and what holds the focus goes with it.
  const carried = useRef<string>(undefined);
  const picture = useRef<HTMLDivElement>(null);
  useLayoutEffect(() => {
    // Only where the focus was lost by that: a person who went elsewhere stays there.
    if (!carried.current || document.activeElement !== document.body) return;
    picture.current?.querySelector<HTMLElement>(`[data-deal="${carried.current}"]`)?.focus();
  });
  const putDown = ({ deal, stage, closes }: Held) => {
    setHeld(undefined);
    // As it stood when it was taken up: what is drawn is where it would be.
    onMove(deal, { stage: stage === deal.stageKey ? undefined : stage, expectedClose: closes === deal.expectedClose ? undefined : closes });
  };
  const onKey = (deal: Deal, e: KeyboardEvent) => {
    if (!mayMove || e.altKey || e.ctrlKey || e.metaKey) return;
    const mine = held?.deal.id === deal.id ? held : undefined;
    const carry = keysOf(stages)[e.key];
    if (!mine && e.key === "m") {
      carried.current = deal.id;
      setHeld({ deal, stage: deal.stageKey, closes: deal.expectedClose });
    } else if (!mine) return;
    else if (e.key === "Escape") setHeld(undefined);
    else if (carry) setHeld(carry(mine));
    else if (e.key === "Enter" || e.key === " ") putDown(mine);
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  const shown = useMemo(() => (held ? view.deals.map((d) => (d.id === held.deal.id ? { ...d, stageKey: held.stage, expectedClose: held.closes, late: held.closes < view.today } : d)) : view.deals), [held, view]);
  return { held, shown, picture, onKey };
}
