import { Link } from "react-router";
import styled, { css } from "styled-components";
import { useAct } from "../common/acting";
import { Button } from "../parts/Button";
import { exact, moment } from "../parts/format";
import { useNow } from "../parts/now";
import { small } from "../parts/theme";
import { Urgent } from "../parts/Urgent";
import { acts, repeatWords } from "../Leads/Activities/queries";
import { useWorks, useSession } from "../common/session";
import type { Item } from "./byDay";
import { dateFormat } from "../parts/dateFormat";

const List = styled.ul<{ $narrow?: boolean }>`
  list-style: none;
  padding: 0;
  font-size: 14px;
  li {
    display: grid;
    grid-template-columns: ${(p) => (p.$narrow ? "1fr" : "76px minmax(0, 1fr) auto")};
    gap: 0 12px;
    align-items: baseline;
    padding: 7px 0;
    border-bottom: 1px solid var(--hair);
  }
  li[data-done] {
    color: var(--soft);
    text-decoration: line-through;
  }
  a {
    color: var(--ink);
    font-weight: 600;
    text-decoration: none;
  }
  a:hover {
    text-decoration: underline;
    text-underline-offset: 3px;
  }
  time,
  small {
    ${small}
  }
  time[data-late] {
    color: var(--lamp-ink);
  }
  small {
    display: block;
  }
  ${(p) =>
    p.$narrow &&
    css`
      button {
        justify-self: start;
        min-height: 24px;
      }
    `}
`;

const kinds: Record<string, string> = { meeting: "Meeting: ", wakes: "" };

type Props = { items: Item[]; narrow?: boolean; dated?: boolean; everybody?: boolean };

/** Follow-ups in the order of their time, what is urgent before the rest; a task is done with a press. */
export function Lines({ items, ...how }: Props) {
  const presses = (item: Item) => Number(item.urgent && !item.done);
  return (
    <List $narrow={how.narrow}>
      {items.toSorted((a, b) => presses(b) - presses(a)).map((item) => (
        <Line key={`${item.kind} ${item.id} ${item.ownerId}`} item={item} {...how} />
      ))}
    </List>
  );
}

function Line({ item, dated, everybody }: { item: Item } & Omit<Props, "items">) {
  const { timeZone } = useSession();
  const works = useWorks("workLeads");
  const now = useNow();
  const clock = dateFormat("en-GB", { timeZone, hour: "2-digit", minute: "2-digit" });
  const isOpen = item.kind === "task" && !item.done;
  return (
    <li data-done={item.done || undefined}>
      <time dateTime={item.at} title={exact(item.at, timeZone)} data-late={(isOpen && Date.parse(item.at) < now) || undefined}>
        {dated ? moment(item.at, timeZone) : clock.format(new Date(item.at))}
        {item.until && !dated && `–${clock.format(new Date(item.until))}`}
      </time>
      <span>
        <Link to={item.leadId ? `/leads/${item.leadId}` : `/deals/${item.dealId}`}>
          {kinds[item.kind]}
          {item.subject}
        </Link>
        {item.urgent && <Urgent />}
        <small>{[item.who, everybody && item.owner, item.repeat && repeatWords(item.repeat)].filter(Boolean).join(" · ")}</small>
      </span>
      {isOpen && works(item.ownerId) && <Done item={item} />}
    </li>
  );
}

function Done({ item }: { item: Item }) {
  const act = useAct();
  const done = () => act.run(() => acts.done(item.id), { changes: ["work"], words: item.repeat ? "Done; it comes again." : "Done.", back: () => acts.reopen(item.id) });
  return (
    <Button look="quiet" aria-label={`Done: ${item.subject}, ${item.who}`} isPending={act.busy} onPress={() => void done()}>
      Done
    </Button>
  );
}
