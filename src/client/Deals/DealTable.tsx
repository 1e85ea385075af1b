import { useState } from "react";
import styled from "styled-components";
import type { Schema } from "../api/client";
import { Table } from "../parts/Bench";
import { day, money } from "../parts/format";
import { Warm } from "../parts/Words";
import { RecordRow } from "./directory";
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

const Close = styled.td<{ $late: boolean }>`
  ${(p) => p.$late && "color: var(--bad);"}
`;

const row = 45;
const step = 15;
const drawn = 75;

const head = ["Deal", "Owner", "Stage", "Amount", "Weighted", "Expected close"];
const numeric = ["Amount", "Weighted"];

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
      aria-label="Table of deals"
      data-landing="list"
      onScroll={(e) => {
        const at = Math.floor(e.currentTarget.scrollTop / row / step) * step;
        setFirst(Math.max(0, at - step));
      }}
    >
      <Table $middle aria-rowcount={all}>
        <thead>
          <tr>
            {head.map((h) => (
              <th key={h} scope="col" className={numeric.includes(h) ? "n" : undefined}>
                {h}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {before > 0 && <tr aria-hidden style={{ height: before }} />}
          {items.map((d, i) => (
            <RecordRow key={d?.id ?? from + i} aria-rowindex={from + i + 1} $on={!!d && d.id === selected}>
              {d ? <Cells deal={d} stage={names[d.stageKey]?.name} onOpen={onOpen} /> : <td colSpan={head.length} />}
            </RecordRow>
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
        {d.slow && <Warm>, slow</Warm>}
      </td>
      <td className="n">{money(d.amount, d.currency)}</td>
      <td className="n">
        {money((d.amount * d.probability) / 100, d.currency)}
        {d.ownProbability && <span title="said by hand"> ({d.probability} %)</span>}
      </td>
      <Close $late={d.late}>
        {day(d.closedAt ?? d.expectedClose)}
        {d.late && ", late"}
      </Close>
    </>
  );
}
