import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { Bench, Inner, Pane } from "../parts/Bench";
import { count, exact, moment } from "../parts/format";
import { Empty, Skeleton, ErrorNote } from "../parts/States";
import { serif, small } from "../parts/theme";
import { Quiet } from "../parts/Words";
import { useSession } from "../common/session";
import { keys } from "../common/keys";

const Columns = styled.div`
  columns: 2 min(480px, 100%);
  column-gap: 40px;
  margin-top: 22px;
`;

const Group = styled.section`
  break-inside: avoid;
  padding-bottom: 26px;
  header {
    display: grid;
    grid-template-columns: auto 1fr;
    column-gap: 12px;
    align-items: baseline;
    border-bottom: 1px solid var(--mark);
    padding-bottom: 6px;
  }
  header b {
    ${serif}
    font-size: 24px;
    font-weight: 500;
    min-width: 36px;
    color: var(--lamp-ink);
  }
  header p {
    grid-column: 2;
    ${small}
  }
  ul {
    list-style: none;
    padding: 0;
  }
`;

const Row = styled(Link)`
  display: grid;
  grid-template-columns: minmax(130px, auto) minmax(0, 1fr) auto;
  gap: 0 14px;
  align-items: baseline;
  padding: 8px 0 8px 48px;
  border-bottom: 1px solid var(--hair);
  color: inherit;
  text-decoration: none;
  b {
    font-weight: 600;
  }
  span,
  time {
    ${small}
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  &:hover {
    background: var(--sheet);
  }
  @media (max-width: 600px) {
    grid-template-columns: minmax(0, 1fr) auto;
    padding-left: 0;
    span {
      grid-row: 2;
      grid-column: 1 / -1;
    }
  }
`;

const All = styled.div`
  padding: 6px 0 0 48px;
  font-size: 14px;
`;

const more: Record<string, string> = {
  asked: "/desk/asked",
  clock: "/leads?state=new&order=clock_due_at",
  unrouted: "/leads?owner=none&state=open",
  qualified: "/handover",
  cleared: "/leads?move=hand_over&state=open",
  duplicates: "/leads/duplicates",
  undecided: "/leads?state=in_work&order=last_touch_at",
  idle: "/leads?state=in_work&order=-last_touch_at",
};

const pages: Record<string, (id: string) => string> = {
  duplicate: (id) => `/leads/duplicates/${id}`,
  arrival: () => "/intake/waiting",
  import: (id) => `/intake/${id}`,
  message: () => "/setup/sent",
  failed: () => "/setup/failed",
  asked: () => "/desk/asked",
};

const linkTo = (group: string, { kind, id }: Schema["DeskItem"]) => pages[kind]?.(id) ?? (group === "qualified" ? `/handover/${id}` : `/leads/${id}`);

/** The first screen: what waits for a person, dearest delay first. */
export function DeskPage() {
  const session = useSession();
  const desk = useQuery({ queryKey: keys.desk, queryFn: () => must(api.GET("/api/desk")), refetchInterval: 60_000 });
  return (
    <Bench>
      <Pane aria-label="The Desk" data-landing="list">
        <Inner>
          <h1>{desk.data ? (desk.data.total ? `${count(desk.data.total, "decision")} ${desk.data.total === 1 ? "waits" : "wait"}` : "Nothing waits") : "The Desk"}</h1>
          <p>
            <Quiet>Dearest delay first, {session.name.split(" ")[0]}.</Quiet> <Link to="/desk/follow-ups">Your follow-ups</Link> · <Link to="/desk/asked">Asked for</Link>
          </p>
          {desk.isPending && <Skeleton rows={8} />}
          {desk.isError && <ErrorNote error={desk.error} />}
          {desk.data?.total === 0 && <Empty>The Desk shows what needs a decision from you. Everything is answered, routed and handed over.</Empty>}
          <Columns>
            {desk.data?.groups.map((g) => (
              <GroupView key={g.key} group={g} zone={session.timeZone} />
            ))}
          </Columns>
        </Inner>
      </Pane>
    </Bench>
  );
}

function GroupView({ group, zone }: { group: Schema["DeskGroup"]; zone: string }) {
  return (
    <Group aria-label={group.title}>
      <header>
        <b>{group.count}</b>
        <h2>{group.title}</h2>
        <p>{group.delay}</p>
      </header>
      <ul>
        {group.items.map((item) => (
          <li key={item.id}>
            <Row to={linkTo(group.key, item)}>
              <b>{item.title}</b>
              <span>{item.line}</span>
              <time dateTime={item.at} title={exact(item.at, zone)}>
                {moment(item.at, zone)}
              </time>
            </Row>
          </li>
        ))}
      </ul>
      {group.count > group.items.length && more[group.key] && (
        <All>
          <Link to={more[group.key]!}>All {group.count}</Link>
        </All>
      )}
    </Group>
  );
}
