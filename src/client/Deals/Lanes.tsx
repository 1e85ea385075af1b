import { useMemo, useRef, useState } from "react";
import styled from "styled-components";
import type { Schema } from "../api/client";
import { day } from "../parts/format";
import { grouped } from "../parts/grouped";
import { small } from "../parts/theme";
import { Lane } from "./Lane";
import { axis, type TimeAxis } from "./lanes";
import { useCarrying, type Change } from "./useCarrying";
import { useWidth } from "./useWidth";

type Deal = Schema["DealItem"];
type Stage = Schema["StageView"];

const Scroll = styled.div`
  overflow-x: auto;
  position: relative;
`;

const Picture = styled.div`
  display: grid;
  grid-template-columns: 108px minmax(0, 1fr) 96px;
  @media (max-width: 767px) {
    min-width: 700px;
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
  .today {
    color: var(--lamp-ink);
  }
`;

const Said = styled.p`
  min-height: 20px;
  font-size: 13px;
  color: var(--soft);
  margin-bottom: 4px;
`;

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

const none: Deal[] = [];
const alone: Schema["DealsBeside"][] = [];

// A marker that moved less was not meant to.
const least = 6;

/**
 * A lane each stage along a time axis of expected close. Dragging along moves the date, across the stage. By keyboard: m takes a deal up, the arrows carry it, a week or a
 * stage a press, Enter puts it down and Escape leaves it where it was.
 */
export function Lanes({ view, stages, selected, mayMove, onOpen, onMove, onAll }: Props) {
  const track = useRef<HTMLDivElement>(null);
  const width = useWidth(track);
  const time = useMemo(() => axis(view.today, width), [view.today, width]);
  const { over, setOver, grab, drop } = useDragging(time, onMove);
  const { picture, shown, held, onKey } = useCarrying(view, stages, mayMove, onMove);
  const most = view.deals.reduce((m, d) => Math.max(m, d.amount), 1);
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
      <Scroll>
        <Picture ref={picture} data-landing="list">
          <div />
          <MonthNames ref={track} time={time} />
          <div />
          {stages.map((s) => (
            <Lane
              key={s.key}
              stage={s}
              time={time}
              deals={byStage.get(s.key) ?? none}
              beside={beside.get(s.key) ?? alone}
              most={most}
              selected={selected}
              held={held?.deal.id}
              over={over === s.key}
              mayMove={mayMove}
              onOpen={onOpen}
              onGrab={grab}
              onKey={onKey}
              onAll={() => onAll(s.key)}
              onOver={() => setOver(s.key)}
              onDrop={(at) => drop(s, at)}
            />
          ))}
        </Picture>
      </Scroll>
    </>
  );
}

function MonthNames({ ref, time }: { ref: React.Ref<HTMLDivElement>; time: TimeAxis }) {
  return (
    <Months ref={ref}>
      <span>late</span>
      <span className="today" style={{ left: time.today - 2 }}>
        today
      </span>
      {time.months
        .filter((m) => m.x > time.today + 44)
        .map((m) => (
          <span key={m.label} style={{ left: m.x }}>
            {m.label}
          </span>
        ))}
    </Months>
  );
}

/** A deal that is dragged: along moves its date, across its stage. */
function useDragging(time: TimeAxis, onMove: Props["onMove"]) {
  const [dragged, setDragged] = useState<{ deal: Deal; grab: number }>();
  const [over, setOver] = useState<string>();
  const drop = (stage: Stage, at: number) => {
    if (!dragged) return;
    const { deal, grab } = dragged;
    const to = time.dayAt(at - grab);
    const moved = Math.abs(at - grab - (deal.late ? 0 : time.x(deal.expectedClose))) > least;
    onMove(deal, { stage: stage.key === deal.stageKey ? undefined : stage.key, expectedClose: moved && to !== deal.expectedClose ? to : undefined });
    setDragged(undefined);
    setOver(undefined);
  };
  return { over, setOver, drop, grab: (deal: Deal, grab: number) => setDragged({ deal, grab }) };
}
