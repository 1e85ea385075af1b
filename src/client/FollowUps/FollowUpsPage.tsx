import { useSearchParams } from "react-router";
import styled from "styled-components";
import { Bench, Inner, Pane } from "../parts/Bench";
import { Button } from "../parts/Button";
import { ChoiceBox } from "../parts/Field";
import { count } from "../parts/format";
import { useNow } from "../parts/now";
import { Empty, Skeleton, ErrorNote } from "../parts/States";
import { usePeople } from "../common/people";
import { useSession } from "../common/session";
import { CalendarAddress } from "./CalendarAddress";
import { byDay, dayOf, mondayOf, plusDays, week } from "../parts/days";
import { Lines } from "./Lines";
import { useFollowUps } from "./queries";

const Top = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 8px 16px;
  align-items: end;
  margin: 10px 0 18px;
  & > div {
    width: 170px;
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
  h3 {
    font-size: 14px;
  }
  section[data-today] h3 {
    color: var(--lamp-ink);
  }
  @media (max-width: 1000px) {
    grid-template-columns: 1fr;
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
    grid-template-columns: 1fr;
  }
  h2 {
    border-bottom: 1px solid var(--mark);
    padding-bottom: 6px;
  }
`;

const named = (day: string, long = false) => new Intl.DateTimeFormat("en-GB", { timeZone: "UTC", weekday: long ? "long" : "short", day: "numeric", month: long ? "long" : "short" }).format(new Date(`${day}T00:00:00Z`));

/** A person's day with what is overdue, or a week of it. */
export function FollowUpsPage() {
  const me = useSession();
  const [params, setParams] = useSearchParams();
  const people = usePeople().data ?? [];
  const today = dayOf(useNow(), me.timeZone);
  const asked = params.get("day");
  const day = asked && /^\d{4}-\d{2}-\d{2}$/.test(asked) && !Number.isNaN(Date.parse(asked)) ? asked : today;
  const weekly = params.get("show") === "week";
  const who = params.get("who") ?? "me";
  const ownOnly = me.role === "rep" || me.role === "qualifier";
  const from = weekly ? mondayOf(day) : day;
  const items = useFollowUps(from, weekly ? 7 : 1, who, me.timeZone);
  const set = (changes: Record<string, string | null>) => {
    const next = new URLSearchParams(params);
    for (const [key, value] of Object.entries(changes))
      if (value === null) next.delete(key);
      else next.set(key, value);
    setParams(next, { replace: true });
  };
  const step = weekly ? 7 : 1;
  return (
    <Bench>
      <Pane>
        <Inner style={{ maxWidth: 1400 }}>
          <h1>{weekly ? `The week from ${named(from, true)}` : day === today ? "Today" : named(day, true)}</h1>
          <Top>
            <ChoiceBox
              label="Show"
              value={weekly ? "week" : "day"}
              options={[
                { key: "day", label: "a day" },
                { key: "week", label: "a week" },
              ]}
              onChange={(show) => set({ show: show === "week" ? "week" : null })}
            />
            {!ownOnly && <ChoiceBox label="Whose" value={who} options={[{ key: "me", label: "mine" }, { key: "all", label: "everybody's" }, ...people.filter((p) => p.id !== me.id).map((p) => ({ key: p.id, label: p.name }))]} onChange={(next) => set({ who: next === "me" ? null : next })} />}
            <Button onPress={() => set({ day: plusDays(day, -step) })}>{weekly ? "Week before" : "Day before"}</Button>
            <Button onPress={() => set({ day: null })} isDisabled={day === today}>
              Today
            </Button>
            <Button onPress={() => set({ day: plusDays(day, step) })}>{weekly ? "Week after" : "Day after"}</Button>
            <span style={{ marginLeft: "auto" }}>
              <CalendarAddress />
            </span>
          </Top>
          {items.isPending && <Skeleton rows={8} />}
          {items.isError && <ErrorNote error={items.error} />}
          {items.data &&
            (weekly ? (
              <Week>
                {[...byDay(items.data.items, week(from), me.timeZone)].map(([d, of]) => (
                  <section key={d} aria-label={named(d, true)} data-today={d === today || undefined}>
                    <h3>{named(d)}</h3>
                    <Lines items={of} narrow everybody={who === "all"} />
                  </section>
                ))}
              </Week>
            ) : (
              <Parts>
                <section aria-label="This day">
                  <h2>{items.data.items.length ? count(items.data.items.length, "follow-up") : "Nothing on this day"}</h2>
                  {items.data.items.length === 0 && <Empty>Next steps and meetings of a day stand here. Plan one on a lead, under “Next step”.</Empty>}
                  <Lines items={items.data.items} everybody={who === "all"} />
                </section>
                {items.data.allOverdue > 0 && (
                  <section aria-label="Overdue">
                    <h2 style={{ color: "var(--lamp-ink)" }}>{items.data.allOverdue} overdue, longest waiting first</h2>
                    <Lines items={items.data.overdue} dated everybody={who === "all"} />
                  </section>
                )}
              </Parts>
            ))}
        </Inner>
      </Pane>
    </Bench>
  );
}
