import { useSearchParams } from "react-router";
import styled from "styled-components";
import type { Schema } from "../api/client";
import { usePeople } from "../common/people";
import { useSession } from "../common/session";
import { Bench, Inner, Pane } from "../parts/Bench";
import { Button } from "../parts/Button";
import { dayOf, mondayOf, plusDays, week } from "../parts/days";
import { ChoiceBox } from "../parts/Field";
import { count } from "../parts/format";
import { useNow } from "../parts/now";
import { Empty, ErrorNote, Skeleton } from "../parts/States";
import { byDay } from "./byDay";
import { CalendarAddress } from "./CalendarAddress";
import { Lines } from "./Lines";
import { useFollowUps } from "./queries";
import { dateFormat } from "../parts/dateFormat";

const Wide = styled(Inner)`
  max-width: 1400px;
`;

const Top = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 8px 16px;
  align-items: end;
  margin: 10px 0 18px;
  & > div {
    width: 170px;
  }
  .end {
    margin-left: auto;
  }
`;

const Week = styled.div`
  display: grid;
  grid-template-columns: repeat(7, minmax(0, 1fr));
  border-top: 1px solid var(--mark);
  & > section {
    border-left: 1px solid var(--hair);
    padding: 8px 10px 16px;
    min-height: 240px;
  }
  & > section:first-child {
    border-left: 0;
  }
  h2 {
    font-size: 14px;
  }
  section[data-today] h2 {
    color: var(--lamp-ink);
  }
  @media (max-width: 1000px) {
    grid-template-columns: minmax(0, 1fr);
    & > section {
      border-left: 0;
      border-bottom: 1px solid var(--hair);
      min-height: 0;
    }
  }
`;

const Parts = styled.div`
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 0 40px;
  align-items: start;
  @media (max-width: 900px) {
    grid-template-columns: minmax(0, 1fr);
  }
  h2 {
    border-bottom: 1px solid var(--mark);
    padding-bottom: 6px;
  }
  h2.late {
    color: var(--lamp-ink);
  }
`;

const named = (day: string, long = false) => dateFormat("en-GB", { timeZone: "UTC", weekday: long ? "long" : "short", day: "numeric", month: long ? "long" : "short" }).format(new Date(`${day}T00:00:00Z`));

const ways = [
  { key: "day", label: "a day" },
  { key: "week", label: "a week" },
];

/** The day or week that is looked at, and whose, as the address bar has it. */
function useAsked() {
  const me = useSession();
  const [params, setParams] = useSearchParams();
  const today = dayOf(useNow(), me.timeZone);
  const asked = params.get("day");
  const day = asked && /^\d{4}-\d{2}-\d{2}$/.test(asked) && !Number.isNaN(Date.parse(asked)) ? asked : today;
  const weekly = params.get("show") === "week";
  const set = (changes: Record<string, string | null>) => {
    const next = new URLSearchParams(params);
    for (const [key, value] of Object.entries(changes))
      if (value === null) next.delete(key);
      else next.set(key, value);
    setParams(next, { replace: true });
  };
  return { today, day, weekly, from: weekly ? mondayOf(day) : day, whose: params.get("who") ?? "me", set };
}

type Asked = ReturnType<typeof useAsked>;

/** A person's day with what is overdue, or a week of it. */
export function FollowUpsPage() {
  const { timeZone } = useSession();
  const asked = useAsked();
  const { today, day, weekly, from, whose } = asked;
  const items = useFollowUps(from, weekly ? 7 : 1, whose, timeZone);
  return (
    <Bench>
      <Pane aria-label="Follow-ups" data-landing="list">
        <Wide>
          <h1>{weekly ? `The week from ${named(from, true)}` : day === today ? "Today" : named(day, true)}</h1>
          <Choosing {...asked} />
          {items.isPending && <Skeleton rows={8} />}
          {items.isError && <ErrorNote error={items.error} />}
          {items.data && (weekly ? <OneWeek found={items.data} asked={asked} /> : <OneDay found={items.data} everybody={whose === "all"} />)}
        </Wide>
      </Pane>
    </Bench>
  );
}

function Choosing({ today, day, weekly, whose, set }: Asked) {
  const me = useSession();
  const others = (usePeople().data ?? []).filter((p) => p.id !== me.id).map((p) => ({ key: p.id, label: p.name }));
  const step = weekly ? 7 : 1;
  return (
    <Top>
      <ChoiceBox label="Show" value={weekly ? "week" : "day"} options={ways} onChange={(show) => set({ show: show === "week" ? "week" : null })} />
      {!me.ownOnly && <ChoiceBox label="Whose" value={whose} options={[{ key: "me", label: "mine" }, { key: "all", label: "everybody's" }, ...others]} onChange={(next) => set({ who: next === "me" ? null : next })} />}
      <Button onPress={() => set({ day: plusDays(day, -step) })}>{weekly ? "Week before" : "Day before"}</Button>
      <Button onPress={() => set({ day: null })} isDisabled={day === today}>
        Today
      </Button>
      <Button onPress={() => set({ day: plusDays(day, step) })}>{weekly ? "Week after" : "Day after"}</Button>
      <span className="end">
        <CalendarAddress />
      </span>
    </Top>
  );
}

type Found = Schema["FollowUpsView"];

function OneWeek({ found, asked: { from, today, whose } }: { found: Found; asked: Asked }) {
  const { timeZone } = useSession();
  return (
    <Week>
      {[...byDay(found.items, week(from), timeZone)].map(([d, of]) => (
        <section key={d} aria-label={named(d, true)} data-today={d === today || undefined}>
          <h2>{named(d)}</h2>
          <Lines items={of} narrow everybody={whose === "all"} />
        </section>
      ))}
    </Week>
  );
}

function OneDay({ found, everybody }: { found: Found; everybody: boolean }) {
  return (
    <Parts>
      <section aria-label="This day">
        <h2>{found.items.length ? count(found.items.length, "follow-up") : "Nothing on this day"}</h2>
        {found.items.length === 0 && <Empty>Next steps and meetings of a day stand here. Plan one on a lead, under “Next step”.</Empty>}
        <Lines items={found.items} everybody={everybody} />
      </section>
      {found.allOverdue > 0 && (
        <section aria-label="Overdue">
          <h2 className="late">{found.allOverdue} overdue, longest waiting first</h2>
          <Lines items={found.overdue} dated everybody={everybody} />
        </section>
      )}
    </Parts>
  );
}
