import { useState } from "react";
import { Link } from "react-router";
import styled from "styled-components";
import type { Schema } from "../api/client";
import { Table } from "../parts/Bench";
import { Button } from "../parts/Button";
import { whole } from "../parts/format";
import { Skeleton, Trouble } from "../parts/States";
import { small } from "../parts/theme";
import { outcomes } from "./OutcomeBar";
import { useRows } from "./queries";

const Bar = styled.div`
  display: flex;
  gap: 2px;
  margin-bottom: 18px;
`;

const Segment = styled.button<{ $on: boolean }>`
  flex: 1 1 auto;
  min-width: 128px;
  border: 0;
  background: none;
  padding: 0;
  text-align: left;
  cursor: pointer;
  i {
    display: block;
    height: 14px;
    border-radius: 1px;
    margin-bottom: 5px;
    opacity: ${(p) => (p.$on ? 1 : 0.75)};
    box-shadow: ${(p) => (p.$on ? "0 3px 0 -1px var(--ink)" : "none")};
  }
  b {
    font-weight: 640;
  }
  span {
    font-size: 14px;
    color: ${(p) => (p.$on ? "var(--ink)" : "var(--soft)")};
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
      <Bar role="group" aria-label="Rows by outcome">
        {outcomes.map((o) => (
          <Segment key={o.key} type="button" $on={outcome === o.key} aria-pressed={outcome === o.key} style={{ flexGrow: delivery.counts[o.count] }} onClick={() => choose(outcome === o.key ? null : o.key)}>
            <i style={{ background: delivery.counts[o.count] ? o.color : "var(--hair)" }} />
            <span>
              <b>{whole(delivery.counts[o.count])}</b> {o.label}
            </span>
          </Segment>
        ))}
      </Bar>
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
