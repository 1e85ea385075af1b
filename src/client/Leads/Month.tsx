import styled from "styled-components";
import { useSession } from "../common/session";
import type { Condition, Field } from "../Conditions/conditions";
import { Button } from "../parts/Button";
import { dayOf } from "../parts/days";
import { ChoiceBox } from "../parts/Field";
import { grouped } from "../parts/grouped";
import { useNow } from "../parts/now";
import { ErrorNote, Skeleton } from "../parts/States";
import { serif } from "../parts/theme";
import { asked, countsOf, daysOf, monthAfter, spanOf } from "./month";
import { MonthGrid } from "./MonthGrid";
import { useGroups, useLeadsOf } from "./queries";
import { dateFormat } from "../parts/dateFormat";

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

const named = (month: string) => dateFormat("en-GB", { timeZone: "UTC", month: "long", year: "numeric" }).format(new Date(`${month}-01T00:00:00Z`));

// So many leads are shown by their names.
const few = 50;

type Props = { where: Condition; fields: Field[]; params: URLSearchParams; set: (changes: Record<string, string | null>) => void };

/** The same leads on the days of a month, by one of their dates: by name where they are few, else as bars. Every number leads to its rows. */
export function Month({ where, fields, params, set }: Props) {
  const { timeZone } = useSession();
  const today = dayOf(useNow(), timeZone);
  const dates = fields.filter((f) => f.type === "date" && !f.many);
  const { by, label, month } = asked(params, dates, today);
  const days = daysOf(month);
  const span = spanOf(where, by, days, timeZone);
  const groups = useGroups(span, `${by}:day`);
  // The numbers of another date or month are never shown under this one's name.
  const counted = groups.isPlaceholderData ? undefined : groups.data;
  const byName = !!counted && counted.total > 0 && counted.total <= few;
  const leads = useLeadsOf(span, by, byName);
  const listed = leads.isPlaceholderData ? [] : (leads.data?.leads ?? []).filter((l) => l.cells[by]);
  const names = byName ? grouped(listed, (l) => dayOf(l.cells[by]!, timeZone)) : null;
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
      {groups.data && <MonthGrid label={`${label}, ${named(month)}`} month={month} days={days} today={today} where={where} counts={countsOf(counted)} names={names} openWith={params} />}
    </Page>
  );
}
