import { useState } from "react";
import { Link } from "react-router";
import styled from "styled-components";
import { DraftActs } from "../common/DraftActs";
import { Aside } from "../parts/Bench";
import { count, whole } from "../parts/format";
import { Block } from "../parts/Layout";
import { Said } from "../parts/Said";
import { Skeleton } from "../parts/States";
import { small } from "../parts/theme";
import { Text } from "../parts/Words";
import type { Model, Trial } from "./model";
import { useMovers } from "./queries";
import type { Draft } from "./useDraft";

const List = styled.ul`
  list-style: none;
  padding: 0;
  margin-bottom: 16px;
  li {
    border-bottom: 1px solid var(--hair);
  }
  li > button {
    display: flex;
    justify-content: space-between;
    gap: 10px;
    width: 100%;
    padding: 8px 0;
    border: 0;
    background: none;
    font-size: 14px;
    cursor: pointer;
    text-align: left;
  }
  li > button:hover span {
    text-decoration: underline;
    text-underline-offset: 3px;
  }
  b {
    font-weight: 640;
    color: var(--slate);
  }
`;

const Movers = styled.ol`
  list-style: none;
  padding: 0 0 8px 12px;
  font-size: 13px;
  li {
    display: flex;
    justify-content: space-between;
    gap: 8px;
    padding: 4px 0;
  }
  small {
    ${small}
    white-space: nowrap;
  }
`;

type Props = { draft: Draft; model: Model; trial?: Trial; next: number };

/** What the draft would change against the live edition, and the way to make it live. */
export function DraftChanges({ draft, model, trial, next }: Props) {
  const blocks = trial?.findings.filter((f) => f.blocks) ?? [];
  return (
    <DraftActs draft={draft} number={next} isChecked toMend={blocks.length} publishWords={`Publish edition ${next}`} published={`Edition ${next} is live; all leads are being scored by it`}>
      {blocks.length > 0 ? (
        <>
          <Text $below={2}>Before it can be tried or go live:</Text>
          <Said findings={blocks} />
        </>
      ) : (
        <Tried model={model} trial={trial} />
      )}
      {trial && <Teams trial={trial} name={model.names.handOver} />}
    </DraftActs>
  );
}

function Tried({ model, trial }: { model: Model; trial?: Trial }) {
  const [open, setOpen] = useState<string>();
  const names: Record<string, string> = { hand_over: model.names.handOver, nurture: model.names.nurture, check: model.names.check, park: model.names.park };
  if (!trial) return <Skeleton rows={4} />;
  if (trial.done < trial.leads)
    return (
      <Text $below={3}>
        Trying it: {whole(trial.done)} of {count(trial.leads, "lead")} so far.
      </Text>
    );
  if (trial.changes.length === 0) return <Text $below={3}>Nobody’s next move would be another one.</Text>;
  return (
    <List>
      {trial.changes.map((c) => {
        const key = `${c.from}>${c.to}`;
        return (
          <li key={key}>
            <button type="button" aria-expanded={open === key} onClick={() => setOpen(open === key ? undefined : key)}>
              <span>
                {names[c.from]} → {names[c.to]}
              </span>
              <b>{whole(c.leads)}</b>
            </button>
            {open === key && <MoversOf model={model} from={c.from} to={c.to} leads={c.leads} />}
          </li>
        );
      })}
    </List>
  );
}

function MoversOf({ model, from, to, leads }: { model: Model; from: string; to: string; leads: number }) {
  const movers = useMovers(model, from, to);
  if (movers.isPending) return <Skeleton rows={3} />;
  if (movers.isError) return <Movers as="p">{movers.error.message}</Movers>;
  return (
    <Movers>
      {movers.data.map((m) => (
        <li key={m.id}>
          <span>
            <Link to={`/leads/${m.id}`}>{m.name}</Link>
            {m.company && m.company !== m.name && `, ${m.company}`}
          </span>
          <small title="fit and engagement, now and then">
            {m.fitNow}/{m.engagementNow} → {m.fit}/{m.engagement}
          </small>
        </li>
      ))}
      {leads > movers.data.length && <li>and {whole(leads - movers.data.length)} more</li>}
    </Movers>
  );
}

// From so much of its room on a team is nearly full.
const nearlyFull = 0.85;

// More to hand over than there is room for, or simply more.
function Teams({ trial, name }: { trial: Trial; name: string }) {
  const changed = trial.teams.filter((t) => t.now !== t.then);
  return (
    <Block $below={3}>
      {changed.map((t) => {
        const more = t.then - t.now;
        const full = more > 0 && t.capacity > 0 && t.open >= t.capacity * nearlyFull;
        return (
          <Block key={t.key} $below={2}>
            <Aside $colour={full ? "lamp" : "hair"}>
              <b>{t.name}</b> would have {whole(Math.abs(more))} {more > 0 ? "more" : "fewer"} under {name}
              {full ? `, and has ${whole(t.open)} of ${whole(t.capacity)} open leads already` : ""}.
            </Aside>
          </Block>
        );
      })}
    </Block>
  );
}
