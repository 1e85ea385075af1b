import { Link } from "react-router";
import styled from "styled-components";
import { allOf, type Condition } from "../Conditions/conditions";
import { week } from "../parts/days";
import { day as dayWords, whole } from "../parts/format";
import { small } from "../parts/theme";
import type { Item } from "./columns";
import type { DayCount } from "./month";

const Table = styled.table`
  border-collapse: collapse;
  table-layout: fixed;
  width: 100%;
  flex: 1;
  margin-top: 10px;
  th {
    ${small}
    font-weight: 500;
    text-align: left;
    padding: 2px 8px;
  }
  td {
    border: 1px solid var(--hair);
    vertical-align: top;
    padding: 4px 8px;
    height: 84px;
    font-size: 13px;
    min-width: 0;
  }
  td[aria-current] {
    box-shadow: inset 0 2px 0 var(--ink);
  }
  .day {
    display: flex;
    justify-content: space-between;
    align-items: baseline;
    line-height: 24px;
    color: var(--soft);
  }
  .day a {
    min-width: 24px;
    text-align: right;
    font-weight: 640;
    color: var(--ink);
    text-decoration-color: var(--hair);
  }
  .one {
    display: block;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
    color: inherit;
    text-decoration: none;
    line-height: 24px;
  }
  .one:hover {
    text-decoration: underline;
  }
  @media (max-width: 767px) {
    td {
      height: 52px;
      padding: 2px 4px;
    }
    .one {
      display: none;
    }
  }
`;

const Much = styled.div`
  height: 4px;
  margin-top: 6px;
  background: var(--slate);
`;

const weekdays = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];
const perDay = 3;

type Props = { label: string; month: string; days: string[]; today: string; where: Condition; counts: Map<string | undefined, DayCount>; names: Map<string, Item[]> | null; openWith: URLSearchParams };

/** The days of a month with their leads: by name where `names` are given, else as bars. */
export function MonthGrid({ label, days, ...rest }: Props) {
  const top = Math.max(1, ...[...rest.counts.values()].map((d) => d.count));
  return (
    <Table aria-label={label}>
      <thead>
        <tr>
          {weekdays.map((d) => (
            <th key={d} scope="col">
              {d}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {Array.from({ length: days.length / 7 }, (_, w) => (
          <tr key={w}>
            {week(days[w * 7]!).map((d) => (
              <Day key={d} day={d} top={top} {...rest} />
            ))}
          </tr>
        ))}
      </tbody>
    </Table>
  );
}

type DayProps = Omit<Props, "label" | "days"> & { day: string; top: number };

function Day({ day, month, today, where, counts, names, openWith, top }: DayProps) {
  const found = counts.get(day);
  const rows = allOf([where, ...(found?.where ? [found.where] : [])]);
  return (
    <td aria-current={day === today ? "date" : undefined}>
      <div className="day">
        <span>{day.slice(0, 7) === month ? Number(day.slice(8)) : dayWords(day)}</span>
        {found && (
          <Link to={`/leads?where=${encodeURIComponent(JSON.stringify(rows))}`} aria-label={`${whole(found.count)} on ${day}`}>
            {whole(found.count)}
          </Link>
        )}
      </div>
      {!names && found && <Much style={{ width: `${Math.max(3, (100 * found.count) / top)}%` }} aria-hidden />}
      {names
        ?.get(day)
        ?.slice(0, perDay)
        .map((l) => (
          <Link key={l.id} className="one" to={`/leads/${l.id}?${openWith}`} title={l.name}>
            {l.name}
          </Link>
        ))}
    </td>
  );
}
