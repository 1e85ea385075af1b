import { Link } from "react-router";
import styled from "styled-components";
import type { Schema } from "../api/client";
import { useSession } from "../common/session";
import { Table } from "../parts/Bench";
import { exact, moment } from "../parts/format";
import { small } from "../parts/theme";

const Rows = styled(Table)`
  table-layout: fixed;
  th:nth-child(1) {
    width: 120px;
  }
  th:nth-child(2) {
    width: 190px;
  }
  th:nth-child(4) {
    width: 230px;
  }
  time {
    ${small}
    white-space: nowrap;
  }
  td small {
    ${small}
    display: block;
  }
  td {
    overflow-wrap: anywhere;
  }
  @media (max-width: 767px) {
    thead {
      display: none;
    }
    tr {
      display: block;
      padding: 8px 0;
      border-bottom: 1px solid var(--hair);
    }
    td {
      display: block;
      padding: 0;
      border: 0;
    }
  }
`;

const Changes = styled.dl`
  display: grid;
  grid-template-columns: minmax(80px, max-content) minmax(0, 1fr);
  gap: 1px 10px;
  margin: 4px 0 0;
  font-size: 13px;
  dt {
    color: var(--soft);
  }
  dd {
    margin: 0;
  }
  del {
    color: var(--soft);
  }
  ins {
    text-decoration: none;
  }
`;

/** Where a record of the log is seen; null for what has no page. */
const placeOf = (kind: string | null | undefined, id: string | null | undefined) => {
  if (!id) return null;
  const places: Record<string, string> = { lead: "/leads", deal: "/deals", account: "/deals/accounts", contact: "/deals/contacts", import: "/intake" };
  const place = places[kind ?? ""];
  return place ? `${place}/${id}` : null;
};

/** Entries of the log, the newest first: when, by whom, what changed and on which record. */
export function LogRows({ lines }: { lines: Schema["LogLine"][] }) {
  return (
    <Rows aria-label="Entries of the log">
      <thead>
        <tr>
          <th scope="col">When</th>
          <th scope="col">Who</th>
          <th scope="col">What</th>
          <th scope="col">Record</th>
        </tr>
      </thead>
      <tbody>
        {lines.map((l) => (
          <Line key={l.id} line={l} />
        ))}
      </tbody>
    </Rows>
  );
}

function Line({ line }: { line: Schema["LogLine"] }) {
  const { timeZone } = useSession();
  const place = placeOf(line.recordKind, line.record);
  const name = line.recordName ?? (line.record ? "one that is gone" : "");
  return (
    <tr>
      <td>
        <time dateTime={line.at} title={exact(line.at, timeZone)}>
          {moment(line.at, timeZone)}
        </time>
      </td>
      <td>
        {line.by ?? line.cause}
        {line.by && <small>{line.cause}</small>}
      </td>
      <td>
        {line.text}
        {line.changes.length > 0 && (
          <Changes>
            {line.changes.map((c) => (
              <Change key={c.what} change={c} />
            ))}
          </Changes>
        )}
      </td>
      <td>
        {place && line.recordName ? <Link to={place}>{name}</Link> : name}
        {line.record && line.recordKind && (
          <small>
            {line.recordKind} · <Link to={`?record=${line.record}`}>its log</Link>
          </small>
        )}
      </td>
    </tr>
  );
}

function Change({ change }: { change: Schema["LogChange"] }) {
  return (
    <>
      <dt>{change.what}</dt>
      <dd>
        {change.from && <del>{change.from}</del>}
        {change.from && " → "}
        <ins>{change.to || (change.from ? "blank" : "")}</ins>
      </dd>
    </>
  );
}
