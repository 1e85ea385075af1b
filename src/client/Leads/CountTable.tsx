import { Link } from "react-router";
import styled from "styled-components";
import type { Schema } from "../api/client";
import { allOf, type Condition } from "../Conditions/conditions";
import { whole } from "../parts/format";
import { Unseen } from "../parts/Layout";
import { Bars } from "../parts/pictures/Bars";
import { small } from "../parts/theme";
import { Hint } from "../parts/Words";

const Scroll = styled.div`
  overflow-x: auto;
`;

const Table = styled.table`
  border-collapse: collapse;
  margin-top: 14px;
  font-size: 14px;
  th,
  td {
    padding: 6px 12px 6px 0;
    border-bottom: 1px solid var(--hair);
    text-align: right;
    white-space: nowrap;
  }
  th {
    ${small}
    font-weight: 500;
    vertical-align: bottom;
  }
  thead th {
    max-width: 120px;
    white-space: normal;
  }
  tbody th,
  thead th:first-child,
  tfoot th {
    text-align: left;
    color: var(--ink);
    font-size: 14px;
  }
  td a {
    color: inherit;
    text-decoration-color: var(--hair);
    display: inline-block;
    min-width: 24px;
    min-height: 24px;
  }
  td.all {
    font-weight: 640;
  }
`;

type Groups = Schema["GroupsView"];

const number = (value: number | null) => (value === null ? "" : Number.isInteger(value) ? whole(value) : value < 100 ? value.toFixed(1) : whole(value));

const most = 40;

/** A number that leads to its rows, where it has some. */
const Linked = ({ text, to }: { text: string; to: string | null }) => (to ? <Link to={to}>{text}</Link> : text);

/** Groups as bars with a sentence over them, and as a table in which every number leads to its rows. */
export function CountTable({ groups, where, of }: { groups: Groups; where: Condition; of: string }) {
  const totals = groups.rows.map((_, i) => groups.cells.filter((c) => c.row === i).reduce((sum, c) => sum + c.count, 0));
  const largest = totals.indexOf(Math.max(...totals));
  if (groups.total === 0) return <Hint $above={5}>No lead fits this sentence, so there is nothing to count.</Hint>;
  const bars = groups.rows.slice(0, most).map((r, i) => ({ label: r.label, value: totals[i]! }));
  return (
    <>
      <h2>
        {whole(groups.total)} {groups.total === 1 ? "lead" : "leads"}; {groups.rows[largest]!.label} has most, {whole(totals[largest]!)}
      </h2>
      <Bars label="Bars" rows={bars} tableBeside />
      <Scroll>
        <Rows groups={groups} where={where} of={of} totals={totals} />
      </Scroll>
    </>
  );
}

function Rows({ groups, where, of, totals }: { groups: Groups; where: Condition; of: string; totals: number[] }) {
  const several = groups.columns.length > 0;
  const columns = several ? groups.columns : [{ key: null, label: groups.measure, where: { all: [] } as unknown }];
  const cell = (row: number, column: number) => groups.cells.find((c) => c.row === row && c.column === column);
  const to = (...parts: (unknown | null)[]) => (parts.some((p) => p === null) ? null : `/leads?where=${encodeURIComponent(JSON.stringify(allOf([where, ...(parts as Condition[])])))}`);
  const sumOf = (column: number) => groups.cells.filter((x) => x.column === column).reduce((sum, x) => sum + x.count, 0);
  return (
    <Table>
      <caption>
        <Unseen>
          {groups.measure} for each {of.toLowerCase()}
        </Unseen>
      </caption>
      <thead>
        <tr>
          <th scope="col">{of}</th>
          {columns.map((c, i) => (
            <th scope="col" key={i}>
              {c.label}
            </th>
          ))}
          {several && <th scope="col">all leads</th>}
        </tr>
      </thead>
      <tbody>
        {groups.rows.map((r, i) => (
          <tr key={i}>
            <th scope="row">{r.label}</th>
            {columns.map((c, j) => {
              const found = cell(i, j);
              return <td key={j}>{found && <Linked text={number(found.value)} to={to(r.where, c.where)} />}</td>;
            })}
            {several && (
              <td className="all">
                <Linked text={whole(totals[i]!)} to={to(r.where)} />
              </td>
            )}
          </tr>
        ))}
      </tbody>
      {groups.measure === "leads" && several && (
        <tfoot>
          <tr>
            <th scope="row">All</th>
            {columns.map((c, j) => (
              <td key={j} className="all">
                <Linked text={whole(sumOf(j))} to={to(c.where)} />
              </td>
            ))}
            <td className="all">{whole(groups.total)}</td>
          </tr>
        </tfoot>
      )}
    </Table>
  );
}
