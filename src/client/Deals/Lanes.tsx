import { useRef, useState } from "react";
import styled from "styled-components";
import type { Schema } from "../api/client";
import { money } from "../parts/format";
import { serif, small } from "../parts/theme";
import { axis, marker, place, type TimeAxis } from "./lanes";
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

type Props = { view: Schema["DealsView"]; stages: Stage[]; selected?: string; mayMove: boolean; onOpen: (id: string) => void; onMove: (deal: Deal, change: { stage?: string; expectedClose?: string }) => void };

/** A lane each stage along a time axis of expected close. Dragging along moves the date, across the stage; the same is in the opened deal. */
export function Lanes({ view, stages, selected, mayMove, onOpen, onMove }: Props) {
  const track = useRef<HTMLDivElement>(null);
  const width = useWidth(track);
  const [dragged, setDragged] = useState<{ deal: Deal; grab: number }>();
  const [over, setOver] = useState<string>();
  const time = axis(view.today, width);
  const most = Math.max(1, ...view.deals.map((d) => d.amount));

  const drop = (stage: Stage, at: number) => {
    if (!dragged) return;
    const day = time.dayAt(at - dragged.grab);
    const moved = Math.abs(at - dragged.grab - (dragged.deal.late ? 0 : time.x(dragged.deal.expectedClose))) > 6;
    onMove(dragged.deal, { stage: stage.key === dragged.deal.stageKey ? undefined : stage.key, expectedClose: moved && day !== dragged.deal.expectedClose ? day : undefined });
    setDragged(undefined);
    setOver(undefined);
  };

  return (
    <Picture>
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
          deals={view.deals.filter((d) => d.stageKey === s.key)}
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
  );
}

type LaneProps = {
  stage: Stage;
  time: TimeAxis;
  deals: Deal[];
  most: number;
  selected?: string;
  over: boolean;
  mayMove: boolean;
  onOpen: (id: string) => void;
  onGrab: (deal: Deal, grab: number) => void;
  onOver: () => void;
  onDrop: (at: number) => void;
};

function Lane({ stage, time, deals, most, selected, over, mayMove, onOpen, onGrab, onOver, onDrop }: LaneProps) {
  const placed = place(deals, time);
  const rows = Math.max(1, ...placed.map((p) => p.row + 1));
  return (
    <>
      <Label>
        <b>{stage.name}</b>
        <small>{stage.probability} %</small>
      </Label>
      <Track
        $over={over}
        style={{ height: rows * 42 + 14 }}
        role="group"
        aria-label={`${stage.name}, ${deals.length} deals`}
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
            $on={deal.id === selected}
            $weight={Math.max(8, Math.sqrt(deal.amount / most) * 100)}
            style={{ left: x, top: 8 + row * 42 }}
            title={`${deal.name}, ${money(deal.amount, deal.currency)}`}
            draggable={mayMove}
            onDragStart={(e) => onGrab(deal, e.clientX - e.currentTarget.getBoundingClientRect().left)}
            onClick={() => onOpen(deal.id)}
          >
            {deal.accountName ?? deal.contactName}
            <small>{money(deal.amount, deal.currency)}</small>
          </Marker>
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
