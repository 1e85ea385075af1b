import { useState } from "react";
import { Link } from "react-router";
import styled from "styled-components";
import type { Schema } from "../api/client";
import { ChoiceBox } from "../parts/Field";
import { Files } from "../parts/Files";
import { whole } from "../parts/format";
import { Skeleton, ErrorNote } from "../parts/States";
import { serif, small } from "../parts/theme";
import { allOf, partsOf, type Condition, type Field } from "../Conditions/conditions";
import { groupings } from "./Layout";
import { useGroups } from "./queries";

const Page = styled.div`
  flex: 1;
  min-height: 0;
  overflow: auto;
  padding: 14px 18px 30px;
  h2 {
    ${serif}
    font-size: 18px;
    margin: 16px 0 10px;
  }
  p {
    ${small}
  }
`;

const Asked = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  & > * {
    width: 230px;
  }
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
  }
  td.all {
    font-weight: 640;
  }
`;

const Bars = styled.svg`
  width: 100%;
  max-width: 900px;
  height: auto;
  display: block;
  text {
    font: 12px "Hanken Grotesk Variable", system-ui, sans-serif;
    fill: var(--soft);
  }
  rect {
    fill: var(--slate);
  }
`;

type Groups = Schema["GroupsView"];
type Props = { where: Condition; fields: Field[]; params: URLSearchParams; set: (changes: Record<string, string | null>) => void };

/** The same leads counted: down, across, and what is added up. Every number leads to its rows. */
export function Counts({ where, fields, params, set }: Props) {
  const [rows, across, measure] = [params.get("rows") ?? "source", params.get("across") ?? "state", params.get("measure") ?? "count"];
  const groups = useGroups(where, rows, across === "none" ? null : across, measure);
  const options = groupings(fields);
  const numbers = fields.filter((f) => !f.many && (f.type === "number" || f.type === "money"));
  const measures = [{ key: "count", label: "leads" }, ...numbers.map((f) => ({ key: `sum:${f.key}`, label: `sum of ${f.label.toLowerCase()} of these leads` })), ...numbers.map((f) => ({ key: `mean:${f.key}`, label: `mean ${f.label.toLowerCase()} of these leads` }))];
  return (
    <Page>
      <Asked>
        <ChoiceBox label="Count" value={measure} options={measures} onChange={(key) => set({ measure: key })} />
        <ChoiceBox label="For each" value={rows} options={options} onChange={(key) => set({ rows: key })} />
        <ChoiceBox label="And across" value={across} options={[{ key: "none", label: "nothing" }, ...options]} onChange={(key) => set({ across: key })} />
      </Asked>
      {groups.isPending && <Skeleton rows={8} />}
      {groups.isError && <ErrorNote error={groups.error} />}
      {groups.data && <Shown groups={groups.data} where={where} of={options.find((o) => o.key === rows)?.label ?? rows} />}
      {groups.data && groups.data.total > 0 && (
        <p style={{ marginTop: 14 }}>
          <Files name="counts" at="leads/groups" query={new URLSearchParams({ where: JSON.stringify(where), rows, columns: across === "none" ? "" : across, measure }).toString()} />
        </p>
      )}
    </Page>
  );
}

const number = (value: number | null) => (value === null ? "" : Number.isInteger(value) ? whole(value) : value < 100 ? value.toFixed(1) : whole(value));

function Shown({ groups, where, of }: { groups: Groups; where: Condition; of: string }) {
  const counting = groups.measure === "leads";
  const cell = (row: number, column: number) => groups.cells.find((c) => c.row === row && c.column === column);
  const totals = groups.rows.map((_, i) => groups.cells.filter((c) => c.row === i).reduce((sum, c) => sum + c.count, 0));
  const to = (...parts: (unknown | null)[]) => (parts.some((p) => p === null) ? null : `/leads?where=${encodeURIComponent(JSON.stringify(allOf([...partsOf(where), ...parts.map((p) => p as Condition)])))}`);
  const columns = groups.columns.length ? groups.columns : [{ key: null, label: groups.measure, where: { all: [] } as unknown }];
  const largest = totals.indexOf(Math.max(...totals));
  const linked = (text: string, link: string | null) => (link ? <Link to={link}>{text}</Link> : text);
  if (groups.total === 0) return <p style={{ marginTop: 20 }}>No lead fits this sentence, so there is nothing to count.</p>;
  return (
    <>
      <h2>
        {whole(groups.total)} {groups.total === 1 ? "lead" : "leads"}; {groups.rows[largest]!.label} has most, {whole(totals[largest]!)}
      </h2>
      <Picture labels={groups.rows.map((r) => r.label)} values={totals} />
      <Table>
        <caption style={{ position: "absolute", left: -9999 }}>
          {groups.measure} for each {of.toLowerCase()}
        </caption>
        <thead>
          <tr>
            <th scope="col">{of}</th>
            {columns.map((c, i) => (
              <th scope="col" key={i}>
                {c.label}
              </th>
            ))}
            {groups.columns.length > 0 && <th scope="col">all leads</th>}
          </tr>
        </thead>
        <tbody>
          {groups.rows.map((r, i) => (
            <tr key={i}>
              <th scope="row">{r.label}</th>
              {columns.map((c, j) => {
                const found = cell(i, j);
                return <td key={j}>{found && linked(number(found.value), to(r.where, c.where))}</td>;
              })}
              {groups.columns.length > 0 && <td className="all">{linked(whole(totals[i]!), to(r.where))}</td>}
            </tr>
          ))}
        </tbody>
        {counting && groups.columns.length > 0 && (
          <tfoot>
            <tr>
              <th scope="row">All</th>
              {columns.map((c, j) => (
                <td key={j} className="all">
                  {linked(whole(groups.cells.filter((x) => x.column === j).reduce((sum, x) => sum + x.count, 0)), to(c.where))}
                </td>
              ))}
              <td className="all">{whole(groups.total)}</td>
            </tr>
          </tfoot>
        )}
      </Table>
    </>
  );
}

const most = 40;

/** Leads of each row as bars, in the order of the rows. */
function Picture({ labels, values }: { labels: string[]; values: number[] }) {
  const [width] = useState(900);
  const shown = values.slice(0, most);
  const top = Math.max(...shown, 1);
  const step = width / Math.max(shown.length, 8);
  const every = Math.ceil(shown.length / 9);
  return (
    <Bars viewBox={`0 0 ${width} 150`} role="img" aria-label={`Bars: ${labels.slice(0, most).map((l, i) => `${l} ${values[i]}`).join(", ")}`}>
      {shown.map((value, i) => (
        <g key={i}>
          <rect x={i * step} y={118 - (value / top) * 96} width={Math.max(step - 4, 2)} height={(value / top) * 96}>
            <title>
              {labels[i]}: {whole(value)}
            </title>
          </rect>
          <text x={i * step} y={112 - (value / top) * 96}>
            {shown.length <= 20 ? whole(value) : ""}
          </text>
          {i % every === 0 && (
            <text x={i * step} y={136}>
              {short(labels[i]!, (step * every) / 6.6)}
            </text>
          )}
        </g>
      ))}
      <line x1="0" x2={width} y1="118" y2="118" stroke="var(--hair)" />
    </Bars>
  );
}

const short = (text: string, letters: number) => (text.length <= letters ? text : `${text.slice(0, Math.max(1, Math.floor(letters) - 1))}…`);
