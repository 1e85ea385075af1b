import { useState } from "react";
import styled from "styled-components";
import type { Schema } from "../api/client";
import { Table } from "../parts/Bench";
import { day, money } from "../parts/format";
import { useRows, type DealList } from "./rows";

const Scroller = styled.div`
  height: calc(100vh - 250px);
  min-height: 320px;
  overflow: auto;
  thead th {
    position: sticky;
    top: 0;
    background: var(--paper);
    z-index: 1;
  }
  td {
    height: 44px;
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
    max-width: 320px;
  }
  tr > :last-child {
    padding-left: 28px;
  }
`;

const row = 45;
const step = 15;
const drawn = 75;

type Props = { list: DealList; all: number; stages: Schema["StageView"][]; selected?: string; onOpen: (id: string) => void };

/** The deals as rows; only those in sight are read and drawn. */
export function DealTable({ list, all, stages, selected, onOpen }: Props) {
  // The first row in sight, in steps, so that a small scroll draws nothing anew.
  const [first, setFirst] = useState(0);
  const names = Object.fromEntries(stages.map((s) => [s.key, s]));
  const from = Math.max(0, Math.min(first, all - drawn));
  const items = useRows(list, from, Math.min(all, from + drawn));
  const before = from * row;
  const after = Math.max(0, all - from - drawn) * row;
  return (
    <Scroller
      tabIndex={0}
      role="region"
      aria-label="Deals"
      onScroll={(e) => {
        const at = Math.floor(e.currentTarget.scrollTop / row / step) * step;
        setFirst(Math.max(0, at - step));
      }}
    >
      <Table $middle aria-rowcount={all}>
        <thead>
          <tr>
            <th>Deal</th>
            <th>Owner</th>
            <th>Stage</th>
            <th className="n">Amount</th>
            <th className="n">Weighted</th>
            <th>Expected close</th>
          </tr>
        </thead>
        <tbody>
          {before > 0 && <tr aria-hidden style={{ height: before }} />}
          {items.map((d, i) => (
            <tr key={d?.id ?? from + i} aria-rowindex={from + i + 1} style={d && d.id === selected ? { background: "var(--sheet)" } : undefined}>
              {d ? <Cells deal={d} stage={names[d.stageKey]?.name} onOpen={onOpen} /> : <td colSpan={6} />}
            </tr>
          ))}
          {after > 0 && <tr aria-hidden style={{ height: after }} />}
        </tbody>
      </Table>
    </Scroller>
  );
}

function Cells({ deal: d, stage, onOpen }: { deal: Schema["DealItem"]; stage?: string; onOpen: (id: string) => void }) {
  return (
    <>
      <td title={d.name}>
        <a
          href={`/deals/${d.id}`}
          onClick={(e) => {
            e.preventDefault();
            onOpen(d.id);
          }}
        >
          {d.name}
        </a>
      </td>
      <td>{d.ownerName}</td>
      <td>
        {stage}
        {d.slow && <span style={{ color: "var(--lamp-ink)" }}>, slow</span>}
      </td>
      <td className="n">{money(d.amount, d.currency)}</td>
      <td className="n">
        {money((d.amount * d.probability) / 100, d.currency)}
        {d.ownProbability && <span title="said by hand"> ({d.probability} %)</span>}
      </td>
      <td style={d.late ? { color: "var(--bad)" } : undefined}>
        {day(d.closedAt ?? d.expectedClose)}
        {d.late && ", late"}
      </td>
    </>
  );
}
