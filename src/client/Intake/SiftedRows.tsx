import { useState, type ReactNode } from "react";
import styled from "styled-components";
import type { Schema } from "../api/client";
import { Table } from "../parts/Bench";
import { Button } from "../parts/Button";
import { whole } from "../parts/format";
import { Skeleton, ErrorNote } from "../parts/States";
import { useMay } from "../common/session";
import { OutcomeBar, outcomes } from "./OutcomeBar";
import { useRows } from "./queries";
import { RowLine } from "./RowLine";

const Legend = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 6px 24px;
  margin: 8px 0 18px;
`;

const Segment = styled.button<{ $on: boolean }>`
  display: flex;
  align-items: center;
  gap: 8px;
  border: 0;
  border-bottom: 2px solid ${(p) => (p.$on ? "var(--ink)" : "transparent")};
  background: none;
  padding: 2px 0;
  cursor: pointer;
  font-size: 14px;
  color: ${(p) => (p.$on ? "var(--ink)" : "var(--soft)")};
  i {
    width: 14px;
    height: 10px;
    border-radius: 1px;
  }
  b {
    font-weight: 640;
    color: var(--ink);
  }
`;

const Foot = styled.div`
  display: flex;
  gap: 8px;
  margin-top: 10px;
  align-items: center;
`;

type Props = { imported: Schema["ImportView"]; outcome: string | null; onOutcome: (outcome: string | null) => void; before: ReactNode };

/** The bar divided by outcome; a segment opens its rows. */
export function SiftedRows({ imported, outcome, onOutcome, before }: Props) {
  const [after, setAfter] = useState(0);
  const may = useMay("runIntake");
  const rows = useRows(imported.id, outcome, after, [imported.counts, imported.state]);
  const choose = (key: string | null) => {
    setAfter(0);
    onOutcome(key);
  };
  const shown = outcomes.filter((o) => imported.counts[o.key] > 0 || o.key === "new");
  const label = outcome === "left" ? "left" : outcomes.find((o) => o.key === outcome)?.label;
  return (
    <>
      <OutcomeBar counts={imported.counts} height={18} onChoose={(key) => choose(key)} />
      <Legend role="group" aria-label="Rows by outcome">
        {shown.map((o) => (
          <Segment key={o.key} type="button" $on={outcome === o.key} aria-pressed={outcome === o.key} onClick={() => choose(outcome === o.key ? null : o.key)}>
            <i style={{ background: o.color }} />
            <span>
              <b>{whole(imported.counts[o.key])}</b> {o.label}
            </span>
          </Segment>
        ))}
        {imported.left > 0 && (
          <Segment type="button" $on={outcome === "left"} aria-pressed={outcome === "left"} onClick={() => choose("left")}>
            <span>
              <b>{whole(imported.left)}</b> left as changed since
            </span>
          </Segment>
        )}
        <Segment type="button" $on={outcome === null} aria-pressed={outcome === null} onClick={() => choose(null)}>
          all rows
        </Segment>
      </Legend>
      {before}
      {rows.isPending && <Skeleton />}
      {rows.isError && <ErrorNote error={rows.error} />}
      {rows.data && (
        <Table aria-label={label ? `Rows ${label}` : "All rows"}>
          <thead>
            <tr>
              <th className="n">Row</th>
              <th style={{ width: "24%" }}>Person and company</th>
              <th style={{ width: "26%" }}>Reached by</th>
              <th>{imported.state === "sifted" || imported.state === "sifting" ? "Would become" : "Became"}</th>
            </tr>
          </thead>
          <tbody>
            {rows.data.rows.map((r) => (
              <RowLine key={r.number} row={r} imported={imported} />
            ))}
          </tbody>
        </Table>
      )}
      <Foot>
        {after > 0 && <Button onPress={() => setAfter(0)}>First rows</Button>}
        {rows.data?.next != null && <Button onPress={() => setAfter(rows.data?.next ?? 0)}>Next rows</Button>}
        {may && imported.counts.read > 0 && (
          <a href={`/api/imports/${imported.id}/rows.csv${outcome ? `?outcome=${outcome}` : ""}`} download>
            Download {label ? "these rows" : "all rows"} with their reasons
          </a>
        )}
      </Foot>
    </>
  );
}
