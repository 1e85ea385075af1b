import { useState } from "react";
import { Link } from "react-router";
import styled from "styled-components";
import type { Schema } from "../api/client";
import { Table } from "../parts/Bench";
import { Button } from "../parts/Button";
import { whole } from "../parts/format";
import { Skeleton, Trouble } from "../parts/States";
import { small } from "../parts/theme";
import { OutcomeBar, outcomes } from "./OutcomeBar";
import { useRows } from "./queries";

const Legend = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 6px 28px;
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

const Raw = styled.code`
  display: block;
  ${small}
  font-size: 12px;
  font-family: ui-monospace, "DejaVu Sans Mono", monospace;
  overflow-wrap: anywhere;
`;

const why: Record<string, string> = { new: "new", adds: "adds", aside: "set aside" };

type Props = { delivery: Schema["DeliveryView"]; outcome: string | null; onOutcome: (outcome: string | null) => void };

/** The bar divided by outcome; a segment opens its rows. */
export function SiftedRows({ delivery, outcome, onOutcome }: Props) {
  const [after, setAfter] = useState(0);
  const rows = useRows(delivery.id, outcome, after, delivery.counts);
  const choose = (key: string | null) => {
    setAfter(0);
    onOutcome(key);
  };
  return (
    <>
      <OutcomeBar counts={delivery.counts} height={18} onChoose={(key) => choose(key)} />
      <Legend role="group" aria-label="Rows by outcome">
        {outcomes.map((o) => (
          <Segment key={o.key} type="button" $on={outcome === o.key} aria-pressed={outcome === o.key} onClick={() => choose(outcome === o.key ? null : o.key)}>
            <i style={{ background: o.color }} />
            <span>
              <b>{whole(delivery.counts[o.count])}</b> {o.label}
            </span>
          </Segment>
        ))}
        <Segment type="button" $on={outcome === null} aria-pressed={outcome === null} onClick={() => choose(null)}>
          all rows
        </Segment>
      </Legend>
      {rows.isPending && <Skeleton />}
      {rows.isError && <Trouble error={rows.error} />}
      {rows.data && (
        <Table aria-label={outcome ? `Rows ${why[outcome]}` : "All rows"}>
          <thead>
            <tr>
              <th className="n">Row</th>
              <th>Person and company</th>
              <th>Reached by</th>
              <th style={{ width: "44%" }}>{delivery.state === "sifted" ? "Would become" : "Became"}</th>
            </tr>
          </thead>
          <tbody>
            {rows.data.rows.map((r) => (
              <RowLine key={r.number} row={r} />
            ))}
          </tbody>
        </Table>
      )}
      <div style={{ display: "flex", gap: 8, marginTop: 10 }}>
        {after > 0 && <Button onPress={() => setAfter(0)}>First rows</Button>}
        {rows.data?.next != null && <Button onPress={() => setAfter(rows.data?.next ?? 0)}>Next rows</Button>}
      </div>
    </>
  );
}

function RowLine({ row }: { row: Schema["RowView"] }) {
  const value = (key: string) => row.values.find((v) => v.key === key)?.value;
  const name = [value("first_name"), value("last_name")].filter(Boolean).join(" ");
  const place = [value("company"), value("country")].filter(Boolean).join(", ");
  return (
    <tr>
      <td className="n">{row.number}</td>
      <td>
        {name || <span style={{ color: "var(--soft)" }}>no name</span>}
        <div style={{ color: "var(--soft)", fontSize: 13 }}>{place}</div>
      </td>
      <td>
        {value("email")}
        <div>{value("phone")}</div>
      </td>
      <td>
        {row.outcome === "aside" ? (
          <>
            <b style={{ color: "var(--lamp-ink)" }}>Set aside.</b> {row.reason}
            <Raw>{row.raw}</Raw>
          </>
        ) : row.outcome === "adds" ? (
          row.reason
        ) : (
          "A new lead"
        )}
        {row.leadId && (
          <>
            {" "}
            <Link to={`/leads/${row.leadId}`}>Open the lead</Link>
          </>
        )}
        {row.problems.map((p) => (
          <div key={p} style={{ color: "var(--soft)", fontSize: 13 }}>
            Left blank: {p}
          </div>
        ))}
      </td>
    </tr>
  );
}
