import { Link } from "react-router";
import styled from "styled-components";
import { Button } from "../parts/Button";
import { mondayOf, plusDays, startOf, week, dayOf } from "../parts/days";
import { ChoiceBox } from "../parts/Field";
import { whole } from "../parts/format";
import { grouped } from "../parts/grouped";
import { useNow } from "../parts/now";
import { Skeleton, ErrorNote } from "../parts/States";
import { serif, small } from "../parts/theme";
import { useSession } from "../Setup/session";
import { allOf, partsOf, type Condition, type Field } from "../Conditions/conditions";
import { useGroups, useLeadsOf } from "./queries";

const Page = styled.div`
  flex: 1;
  min-height: 0;
  overflow: auto;
  padding: 14px 18px 24px;
  display: flex;
  flex-direction: column;
`;

const Top = styled.div`
  display: flex;
  flex-wrap: wrap;
  align-items: flex-end;
  gap: 8px 12px;
  h2 {
    ${serif}
    font-size: 20px;
    min-width: 178px;
  }
  .by {
    width: 220px;
    margin-left: auto;
  }
`;

const Grid = styled.table`
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
  .much {
    height: 4px;
    margin-top: 6px;
    background: var(--slate);
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

const named = (month: string) => new Intl.DateTimeFormat("en-GB", { timeZone: "UTC", month: "long", year: "numeric" }).format(new Date(`${month}-01T00:00:00Z`));
const dayNamed = (day: string) => new Intl.DateTimeFormat("en-GB", { timeZone: "UTC", day: "numeric", month: "short" }).format(new Date(`${day}T00:00:00Z`));
const monthAfter = (month: string, by: number) => {
  const [y, m] = month.split("-").map(Number);
  return new Date(Date.UTC(y!, m! - 1 + by, 1)).toISOString().slice(0, 7);
};
const weekdays = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];
const perDay = 3;

type Props = { where: Condition; fields: Field[]; params: URLSearchParams; set: (changes: Record<string, string | null>) => void };

/** The same leads on the days of a month, by one of their dates: by name where they are few, else as bars. Every number leads to its rows. */
export function Month({ where, fields, params, set }: Props) {
  const { timeZone } = useSession();
  const now = useNow();
  const today = dayOf(now, timeZone);
  const dates = fields.filter((f) => f.type === "date" && !f.many);
  const by = dates.find((f) => f.key === params.get("by"))?.key ?? dates.find((f) => f.key === "next_step_at")?.key ?? dates[0]?.key ?? "created_at";
  const asked = params.get("month");
  const month = asked && /^\d{4}-(0[1-9]|1[0-2])$/.test(asked) ? asked : today.slice(0, 7);
  const first = mondayOf(`${month}-01`);
  const days = Array.from({ length: 42 }, (_, i) => plusDays(first, i)).filter((_, i, all) => i < 35 || all[35]! < `${monthAfter(month, 1)}-01`);
  const span: Condition = allOf([...partsOf(where), { field: by, is: "since", values: [startOf(first, timeZone).toISOString()] }, { field: by, is: "before", values: [startOf(plusDays(days.at(-1)!, 1), timeZone).toISOString()] }]);
  const groups = useGroups(span, `${by}:day`);
  // The numbers of another date or month are never shown under this one's name.
  const counted = groups.isPlaceholderData ? undefined : groups.data;
  const few = !!counted && counted.total > 0 && counted.total <= 50;
  const leads = useLeadsOf(span, by, few);
  const of = new Map(counted?.rows.map((r, i) => [r.key?.slice(0, 10), { where: r.where as Condition | null, count: counted.cells.filter((c) => c.row === i).reduce((n, c) => n + c.count, 0) }]));
  const top = Math.max(1, ...[...of.values()].map((d) => d.count));
  const listed = few && !leads.isPlaceholderData ? (leads.data?.leads ?? []) : [];
  const shown = grouped(
    listed.filter((l) => l.cells[by]),
    (l) => dayOf(l.cells[by]!, timeZone),
  );
  const label = dates.find((f) => f.key === by)?.label ?? by;
  return (
    <Page>
      <Top>
        <h2>{named(month)}</h2>
        <Button onPress={() => set({ month: monthAfter(month, -1) })}>Month before</Button>
        <Button isDisabled={month === today.slice(0, 7)} onPress={() => set({ month: null })}>
          This month
        </Button>
        <Button onPress={() => set({ month: monthAfter(month, 1) })}>Month after</Button>
        <div className="by">
          <ChoiceBox label="On the day of" value={by} options={dates} onChange={(key) => set({ by: key })} />
        </div>
      </Top>
      {groups.isPending && <Skeleton rows={8} />}
      {groups.isError && <ErrorNote error={groups.error} />}
      {groups.data && (
        <Grid aria-label={`${label}, ${named(month)}`}>
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
                {week(days[w * 7]!).map((d) => {
                  const found = of.get(d);
                  const some = shown.get(d) ?? [];
                  return (
                    <td key={d} aria-current={d === today ? "date" : undefined}>
                      <div className="day">
                        <span>{d.slice(0, 7) === month ? Number(d.slice(8)) : dayNamed(d)}</span>
                        {found && (
                          <Link to={`/leads?where=${encodeURIComponent(JSON.stringify(allOf([...partsOf(where), ...(found.where ? [found.where] : [])])))}`} aria-label={`${whole(found.count)} on ${d}`}>
                            {whole(found.count)}
                          </Link>
                        )}
                      </div>
                      {!few && found && <div className="much" style={{ width: `${Math.max(3, (100 * found.count) / top)}%` }} aria-hidden />}
                      {some.slice(0, perDay).map((l) => (
                        <Link key={l.id} className="one" to={`/leads/${l.id}?${params}`} title={l.name}>
                          {l.name}
                        </Link>
                      ))}
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </Grid>
      )}
    </Page>
  );
}
