import { useState, type ReactNode } from "react";
import styled from "styled-components";
import type { Schema } from "../api/client";
import { DataTable } from "../parts/DataTable";
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
  min-height: 24px;
  i {
    width: 14px;
    height: 10px;
    border-radius: 1px;
    forced-color-adjust: none;
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

type Import = Schema["ImportView"];
type Props = { imported: Import; outcome: string | null; onOutcome: (outcome: string | null) => void; before: ReactNode };

const labelOf = (outcome: string | null) => (outcome === "left" ? "left" : outcomes.find((o) => o.key === outcome)?.label);

const head = (state: string) => [{ label: "Row", isNumber: true }, { label: "Person and company", width: "24%" }, { label: "Reached by", width: "26%" }, state === "sifted" || state === "sifting" ? "Would become" : "Became"];

/** The bar divided by outcome; a segment opens its rows. */
export function SiftedRows({ imported, outcome, onOutcome, before }: Props) {
  const [after, setAfter] = useState(0);
  const may = useMay("runIntake");
  const rows = useRows(imported.id, outcome, after, [imported.counts, imported.state]);
  const choose = (key: string | null) => {
    setAfter(0);
    onOutcome(key);
  };
  const label = labelOf(outcome);
  return (
    <>
      <OutcomeBar counts={imported.counts} height={18} onChoose={choose} />
      <Segments imported={imported} outcome={outcome} onChoose={choose} />
      {before}
      {rows.isPending && <Skeleton />}
      {rows.isError && <ErrorNote error={rows.error} />}
      {rows.data && (
        <DataTable label={label ? `Rows ${label}` : "All rows"} head={head(imported.state)}>
          {rows.data.rows.map((r) => (
            <RowLine key={r.number} row={r} imported={imported} />
          ))}
        </DataTable>
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

function Segments({ imported, outcome, onChoose }: { imported: Import; outcome: string | null; onChoose: (outcome: string | null) => void }) {
  const shown = outcomes.filter((o) => imported.counts[o.key] > 0 || o.key === "new");
  const press = (key: string | null) => ({ type: "button" as const, $on: outcome === key, "aria-pressed": outcome === key, onClick: () => onChoose(outcome === key ? null : key) });
  return (
    <Legend role="group" aria-label="Rows by outcome">
      {shown.map((o) => (
        <Segment key={o.key} {...press(o.key)}>
          <i style={{ background: o.color }} />
          <span>
            <b>{whole(imported.counts[o.key])}</b> {o.label}
          </span>
        </Segment>
      ))}
      {imported.left > 0 && (
        <Segment {...press("left")}>
          <span>
            <b>{whole(imported.left)}</b> left as changed since
          </span>
        </Segment>
      )}
      <Segment {...press(null)}>all rows</Segment>
    </Legend>
  );
}
