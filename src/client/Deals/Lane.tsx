import { useMemo } from "react";
import styled from "styled-components";
import type { Schema } from "../api/client";
import { count, money } from "../parts/format";
import { serif, small } from "../parts/theme";
import { aboveFirst, DealMarker, rowHeight, type MarkerActs } from "./DealMarker";
import { gather, marker, place, type TimeAxis } from "./lanes";

type Deal = Schema["DealItem"];
type Stage = Schema["StageView"];

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
    display: block;
  }
`;

const Swatch = styled.i<{ $colour: string }>`
  display: inline-block;
  width: 9px;
  height: 9px;
  margin-right: 7px;
  background: var(--${(p) => p.$colour});
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

// Over so many deals a lane gathers them.
const full = 60;
const highest = 6;

type Props = MarkerActs & {
  stage: Stage;
  time: TimeAxis;
  deals: Deal[];
  beside: Schema["DealsBeside"][];
  /** The largest amount of the picture. */
  most: number;
  selected?: string;
  held?: string;
  over: boolean;
  mayMove: boolean;
  onAll: () => void;
  onOver: () => void;
  onDrop: (at: number) => void;
};

/** One stage along time: its name, its deals by expected close, and what they come to. */
export function Lane({ stage, time, deals, beside, most, selected, held, over, mayMove, onAll, onOver, onDrop, ...acts }: Props) {
  const { placed, gathered } = useMemo(() => (beside.length > 0 || deals.length > full ? gather(deals, time, highest, beside) : { placed: place(deals, time), gathered: [] }), [deals, beside, time]);
  const rows = Math.max(1, ...placed.map((p) => p.row + 1), ...gathered.map((g) => g.row + 1));
  return (
    <>
      <Label>
        <b>
          <Swatch aria-hidden $colour={stage.colour} />
          {stage.name}
        </b>
        <small>{stage.probability} %</small>
        {stage.needs.length > 0 && <small>needs {stage.needs.map((n) => n.toLowerCase()).join(", ")}</small>}
      </Label>
      <Track
        $over={over}
        role="group"
        aria-label={`${stage.name}, ${count(stage.deals, "deal")}`}
        style={{ height: rows * rowHeight + 14 }}
        onDragOver={(e) => (e.preventDefault(), onOver())}
        onDrop={(e) => onDrop(e.clientX - e.currentTarget.getBoundingClientRect().left)}
      >
        <i className="today" style={{ left: time.today - 5 }} />
        {time.months.map((m) => (
          <i key={m.label} style={{ left: m.x }} />
        ))}
        {placed.map((p) => (
          <DealMarker key={p.deal.id} placed={p} most={most} isOn={p.deal.id === selected} isHeld={p.deal.id === held} mayMove={mayMove} {...acts} />
        ))}
        {gathered.map((g) => (
          <More key={g.x} type="button" style={{ left: g.x, top: aboveFirst + g.row * rowHeight }} onClick={onAll}>
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
