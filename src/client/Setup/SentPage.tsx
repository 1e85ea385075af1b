import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import styled from "styled-components";
import { api, must } from "../api/client";
import { Bench, Inner, Pane } from "../parts/Bench";
import { useActing } from "../common/acting";
import { Button } from "../parts/Button";
import { count, exact, moment } from "../parts/format";
import { Empty, Skeleton, ErrorNote } from "../parts/States";
import { small } from "../parts/theme";
import { useSession } from "../common/session";
import { keys } from "../common/keys";

const List = styled.ol`
  list-style: none;
  padding: 0;
  font-size: 14px;
  li {
    display: grid;
    grid-template-columns: 96px minmax(0, 220px) minmax(0, 1fr);
    gap: 4px 16px;
    padding: 8px 0;
    border-bottom: 1px solid var(--hair);
  }
  time,
  small {
    ${small}
  }
  li > span {
    overflow: hidden;
    text-overflow: ellipsis;
  }
  pre {
    font: inherit;
    white-space: pre-wrap;
    overflow-wrap: anywhere;
    margin: 8px 0 0;
  }
  summary {
    cursor: pointer;
  }
`;

/** Every message that left or waits to: to people outside and to us. */
export function SentPage() {
  const { timeZone } = useSession();
  const act = useActing();
  const sent = useQuery({ queryKey: keys.outbox, queryFn: () => must(api.GET("/api/outbox")) });
  return (
    <Bench>
      <Pane>
        <Inner>
          <h1>What was sent</h1>
          <p style={{ color: "var(--soft)", marginBottom: 14 }}>The latest 200 messages. They go into the folder for caught mail, or to a mail server where one is set up; one that cannot be sent is tried for three days.</p>
          {sent.isPending && <Skeleton rows={8} />}
          {sent.isError && <ErrorNote error={sent.error} />}
          {sent.data?.length === 0 && <Empty>Nothing was sent yet. Messages to leads, and what we tell one another, stand here.</Empty>}
          <List>
            {sent.data?.map((m) => (
              <li key={m.id}>
                <time dateTime={m.createdAt} title={exact(m.createdAt, timeZone)}>
                  {moment(m.createdAt, timeZone)}
                </time>
                <span>
                  {m.leadId ? <Link to={`/leads/${m.leadId}`}>{m.to}</Link> : m.to}
                  <small style={{ display: "block" }}>{m.sentAt ? "sent" : m.givenUpAt ? "given up" : m.nextAt ? `tried ${count(m.tries, "time")}, again ${moment(m.nextAt, timeZone)}` : "waits"}</small>
                  {!m.sentAt && m.problem && <small style={{ display: "block", color: "var(--bad)" }}>{m.problem}</small>}
                  {!m.sentAt && (m.givenUpAt || m.nextAt) && (
                    <Button look="quiet" onPress={() => void act(() => must(api.POST("/api/outbox/{id}/send-again", { params: { path: { id: m.id } } })), "It is tried again now.")}>
                      Send again
                    </Button>
                  )}
                </span>
                <details>
                  <summary>{m.subject}</summary>
                  <pre>{m.text}</pre>
                </details>
              </li>
            ))}
          </List>
        </Inner>
      </Pane>
    </Bench>
  );
}
