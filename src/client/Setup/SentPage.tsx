import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { useAct } from "../common/acting";
import { keys } from "../common/keys";
import { useSession } from "../common/session";
import { Button } from "../parts/Button";
import { count, exact, moment } from "../parts/format";
import { Empty } from "../parts/States";
import { small } from "../parts/theme";
import { SetupPage } from "./SetupPage";

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
  li > span small {
    display: block;
  }
  .bad {
    color: var(--bad);
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
  @media (max-width: 600px) {
    li {
      grid-template-columns: minmax(0, 1fr);
    }
  }
`;

const intro = "The latest 200 messages. They go into the folder for caught mail, or to a mail server where one is set up; one that cannot be sent is tried for three days.";

/** Every message that left or waits to: to people outside and to us. */
export function SentPage() {
  const sent = useQuery({ queryKey: keys.outbox, queryFn: () => must(api.GET("/api/outbox")) });
  return (
    <SetupPage title="What was sent" intro={intro} query={sent}>
      {(data) =>
        data.length === 0 ? (
          <Empty>Nothing was sent yet. Messages to leads, and what we tell one another, stand here.</Empty>
        ) : (
          <List>
            {data.map((m) => (
              <Line key={m.id} message={m} />
            ))}
          </List>
        )
      }
    </SetupPage>
  );
}

type Message = Schema["SentView"];

const standing = (m: Message, zone: string) => (m.sentAt ? "sent" : m.givenUpAt ? "given up" : m.nextAt ? `tried ${count(m.tries, "time")}, again ${moment(m.nextAt, zone)}` : "waits");

function Line({ message: m }: { message: Message }) {
  const { timeZone } = useSession();
  const act = useAct();
  const again = () => void act.run(() => must(api.POST("/api/outbox/{id}/send-again", { params: { path: { id: m.id } } })), { changes: ["outbox"], words: "It is tried again now." });
  return (
    <li>
      <time dateTime={m.createdAt} title={exact(m.createdAt, timeZone)}>
        {moment(m.createdAt, timeZone)}
      </time>
      <span>
        {m.leadId ? <Link to={`/leads/${m.leadId}`}>{m.to}</Link> : m.to}
        <small>{standing(m, timeZone)}</small>
        {!m.sentAt && m.problem && <small className="bad">{m.problem}</small>}
        {!m.sentAt && (m.givenUpAt || m.nextAt) && (
          <Button look="quiet" isPending={act.busy} onPress={again}>
            Send again
          </Button>
        )}
      </span>
      <details>
        <summary>{m.subject}</summary>
        <pre>{m.text}</pre>
      </details>
    </li>
  );
}
