import { useLayoutEffect, useMemo, useRef, useState, type KeyboardEvent } from "react";
import styled from "styled-components";
import type { Schema } from "../api/client";
import { count, day, money } from "../parts/format";
import { grouped } from "../parts/grouped";
import { serif, small } from "../parts/theme";
import { axis, gather, later, marker, place, type TimeAxis } from "./lanes";
import { useWidth } from "./useWidth";

type Deal = Schema["DealItem"];
type Stage = Schema["StageView"];

const Picture = styled.div`
  display: grid;
  grid-template-columns: 108px minmax(0, 1fr) 96px;
`;

const Label = styled.div`
  padding: 12px 8px 12px 0;
  border-top: 1px solid var(--hair);
  b {
    ${serif}
    font-size: 16px;
    font-weight: 550;
    display: block;
  }
  b > i {
    display: inline-block;
    width: 9px;
    height: 9px;
    margin-right: 7px;
  }
  small {
    ${small}
  }
`;

const Sum = styled(Label)`
  text-align: right;
  padding-right: 0;
  b {
    font: inherit;
    font-size: 14px;
    font-weight: 620;
  }
`;

const Track = styled.div<{ $over: boolean }>`
  position: relative;
  border-top: 1px solid var(--hair);
  background: ${(p) => (p.$over ? "var(--lamp-wash)" : "none")};
  i {
    position: absolute;
    top: 0;
    bottom: 0;
    width: 1px;
    background: var(--hair);
    pointer-events: none;
  }
  i.today {
    width: 2px;
    background: var(--lamp);
  }
`;

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

const Months = styled.div`
  position: relative;
  height: 22px;
  span {
    position: absolute;
    ${small}
    font-size: 12px;
  }
`;

const More = styled.button`
  position: absolute;
  width: ${marker}px;
  height: 38px;
  border: 1px dashed var(--mark);
  border-radius: 3px;
  background: var(--paper);
  font-size: 13px;
  line-height: 1.3;
  text-align: left;
  padding: 2px 8px 2px 14px;
  cursor: pointer;
  small {
    ${small}
    font-size: 12px;
    display: block;
  }
`;

const Said = styled.p`
  min-height: 20px;
  font-size: 13px;
  color: var(--soft);
  margin-bottom: 4px;
`;

/** A deal that is held by keyboard, with where it would be put. */
type Held = { deal: Deal; stage: string; closes: string };

type Change = { stage?: string; expectedClose?: string };

type Props = {
  view: Schema["DealsView"];
  stages: Stage[];
  selected?: string;
  mayMove: boolean;
  onOpen: (id: string) => void;
  onMove: (deal: Deal, change: Change) => void;
  /** Shows all deals of a stage as a table. */
  onAll: (stage: string) => void;
};

// Over so many deals a lane gathers them.
const full = 60;
const highest = 6;

/**
 * A lane each stage along a time axis of expected close. Dragging along moves the date, across the stage. By keyboard: m takes a deal up, the arrows carry it, a week or a
 * stage a press, Enter puts it down and Escape leaves it where it was.
 */
export function Lanes({ view, stages, selected, mayMove, onOpen, onMove, onAll }: Props) {
  const track = useRef<HTMLDivElement>(null);
  const width = useWidth(track);
  const [dragged, setDragged] = useState<{ deal: Deal; grab: number }>();
  const [over, setOver] = useState<string>();
  const [held, setHeld] = useState<Held>();
  // Carried to another lane a marker is drawn anew, and what holds the focus goes with it.
  const carried = useRef<string>(undefined);
  const picture = useRef<HTMLDivElement>(null);
  useLayoutEffect(() => {
    // Only where the focus was lost by that: whoever went elsewhere stays there.
    if (!carried.current || document.activeElement !== document.body) return;
    picture.current?.querySelector<HTMLElement>(`[data-deal="${carried.current}"]`)?.focus();
  });
  const time = useMemo(() => axis(view.today, width), [view.today, width]);
  const most = view.deals.reduce((m, d) => Math.max(m, d.amount), 1);

  const drop = (stage: Stage, at: number) => {
    if (!dragged) return;
    const day = time.dayAt(at - dragged.grab);
    const moved = Math.abs(at - dragged.grab - (dragged.deal.late ? 0 : time.x(dragged.deal.expectedClose))) > 6;
    onMove(dragged.deal, { stage: stage.key === dragged.deal.stageKey ? undefined : stage.key, expectedClose: moved && day !== dragged.deal.expectedClose ? day : undefined });
    setDragged(undefined);
    setOver(undefined);
  };

  const carry = (deal: Deal, e: KeyboardEvent) => {
    if (!mayMove || e.altKey || e.ctrlKey || e.metaKey) return;
    const mine = held?.deal.id === deal.id ? held : undefined;
    const at = stages.findIndex((s) => s.key === (mine?.stage ?? deal.stageKey));
    const done = () => (e.preventDefault(), e.stopPropagation());
    if (!mine) {
      if (e.key === "m") {
        done();
        carried.current = deal.id;
        setHeld({ deal, stage: deal.stageKey, closes: deal.expectedClose });
      }
      return;
    }
    if (e.key === "Escape") setHeld(undefined);
    else if (e.key === "ArrowDown" || e.key === "ArrowUp") setHeld({ ...mine, stage: stages[Math.min(stages.length - 1, Math.max(0, at + (e.key === "ArrowDown" ? 1 : -1)))]!.key });
    else if (e.key === "ArrowRight" || e.key === "ArrowLeft") setHeld({ ...mine, closes: later(mine.closes, e.key === "ArrowRight" ? 7 : -7) });
    else if (e.key === "Enter" || e.key === " ") {
      setHeld(undefined);
      // As it stood when it was taken up: what is drawn is where it would be.
      const { deal: was } = mine;
      onMove(was, { stage: mine.stage === was.stageKey ? undefined : mine.stage, expectedClose: mine.closes === was.expectedClose ? undefined : mine.closes });
    } else return;
    done();
  };
  // What is held is drawn where it would be put.
  const shown = useMemo(() => (held ? view.deals.map((d) => (d.id === held.deal.id ? { ...d, stageKey: held.stage, expectedClose: held.closes, late: held.closes < view.today } : d)) : view.deals), [held, view]);
  const byStage = useMemo(() => grouped(shown, (d) => d.stageKey), [shown]);
  const beside = useMemo(() => grouped(view.beside, (b) => b.stage), [view.beside]);

  return (
    <>
      {mayMove && (
        <Said role="status">
          {held
            ? `${held.deal.name} is taken up: ${stages.find((s) => s.key === held.stage)?.name}, ${day(held.closes)}. Arrows carry it, Enter puts it down, Escape leaves it.`
            : "Drag a deal along to move its date, across to move its stage; by keyboard, m takes it up."}
        </Said>
      )}
      <Picture ref={picture}>
        <div />
        <Months ref={track}>
          <span style={{ left: 0 }}>late</span>
          <span style={{ left: time.today - 2, color: "var(--lamp-ink)" }}>today</span>
          {time.months.filter((m) => m.x > time.today + 44).map((m) => (
            <span key={m.label} style={{ left: m.x }}>
              {m.label}
            </span>
          ))}
        </Months>
        <div />
        {stages.map((s) => (
          <Lane
            key={s.key}
            stage={s}
            time={time}
            deals={byStage.get(s.key) ?? none}
            beside={beside.get(s.key) ?? alone}
            held={held?.deal.id}
            onKey={carry}
            onAll={() => onAll(s.key)}
            most={most}
            selected={selected}
            over={over === s.key}
            mayMove={mayMove}
            onOpen={onOpen}
            onGrab={(deal, grab) => setDragged({ deal, grab })}
            onOver={() => setOver(s.key)}
            onDrop={(at) => drop(s, at)}
          />
        ))}
      </Picture>
    </>
  );
}

const none: Deal[] = [];
const alone: Schema["DealsBeside"][] = [];

type LaneProps = {
  held?: string;
  onKey: (deal: Deal, e: KeyboardEvent) => void;
  onAll: () => void;
  stage: Stage;
  time: TimeAxis;
  deals: Deal[];
  beside: Schema["DealsBeside"][];
  most: number;
  selected?: string;
  over: boolean;
  mayMove: boolean;
  onOpen: (id: string) => void;
  onGrab: (deal: Deal, grab: number) => void;
  onOver: () => void;
  onDrop: (at: number) => void;
};

function Lane({ stage, time, deals, beside, most, selected, over, mayMove, onOpen, onGrab, onOver, onDrop, held, onKey, onAll }: LaneProps) {
  const { placed, gathered } = useMemo(() => (beside.length > 0 || deals.length > full ? gather(deals, time, highest, beside) : { placed: place(deals, time), gathered: [] }), [deals, beside, time]);
  const rows = Math.max(1, ...placed.map((p) => p.row + 1), ...gathered.map((g) => g.row + 1));
  return (
    <>
      <Label>
        <b>
          <i aria-hidden style={{ background: `var(--${stage.colour})` }} />
          {stage.name}
        </b>
        <small>{stage.probability} %</small>
        {stage.needs.length > 0 && <small style={{ display: "block", fontSize: 12 }}>needs {stage.needs.map((n) => n.toLowerCase()).join(", ")}</small>}
      </Label>
      <Track
        $over={over}
        role="group"
        aria-label={`${stage.name}, ${count(stage.deals, "deal")}`}
        style={{ height: rows * 42 + 14 }}
        onDragOver={(e) => (e.preventDefault(), onOver())}
        onDrop={(e) => onDrop(e.clientX - e.currentTarget.getBoundingClientRect().left)}
      >
        <i className="today" style={{ left: time.today - 5 }} />
        {time.months.map((m) => (
          <i key={m.label} style={{ left: m.x }} />
        ))}
        {placed.map(({ deal, x, row, late }) => (
          <Marker
            key={deal.id}
            type="button"
            $late={late}
            $on={deal.id === selected || deal.id === held}
            aria-pressed={deal.id === held || undefined}
            $weight={Math.max(8, Math.sqrt(deal.amount / most) * 100)}
            style={{ left: x, top: 8 + row * 42 }}
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
        ))}
        {gathered.map((g) => (
          <More key={g.x} type="button" style={{ left: g.x, top: 8 + g.row * 42 }} onClick={onAll}>
            {count(g.deals, "more deal")}
            <small>show all as a table</small>
          </More>
        ))}
      </Track>
      <Sum>
        {stage.totals.map((t) => (
          <b key={t.currency}>{money(t.weighted, t.currency)}</b>
        ))}
        <small>{stage.totals.length ? "weighted" : "none"}</small>
      </Sum>
    </>
  );
}
