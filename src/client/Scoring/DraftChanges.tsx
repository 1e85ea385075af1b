import { useState } from "react";
import { Link } from "react-router";
import styled from "styled-components";
import { Button } from "../parts/Button";
import { TextBox } from "../parts/Field";
import { count, whole } from "../parts/format";
import { Skeleton } from "../parts/States";
import { tell, tellError } from "../parts/Toast";
import { small } from "../parts/theme";
import type { Model, Trial } from "./model";
import { useMovers } from "./queries";
import { Said } from "../parts/Said";
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

const Warn = styled.p`
  border-left: 3px solid var(--lamp);
  padding-left: 10px;
  margin-bottom: 10px;
  font-size: 14px;
`;

type Props = { draft: Draft; model: Model; trial?: Trial; next: number };

/** What the draft would change against the live edition, and the way to make it live. */
export function DraftChanges({ draft, model, trial, next }: Props) {
  const [busy, setBusy] = useState(false);
  const [sure, setSure] = useState(false);
  const [open, setOpen] = useState<string>();
  const blocks = trial?.findings.filter((f) => f.blocks) ?? [];
  const names: Record<string, string> = { hand_over: model.names.handOver, nurture: model.names.nurture, check: model.names.check, park: model.names.park };
  const act = async (work: () => Promise<unknown>, words: string) => {
    setBusy(true);
    try {
      await work();
      tell(words);
    } catch (e) {
      tellError(e);
    }
    setBusy(false);
    setSure(false);
  };
  return (
    <>
      {blocks.length > 0 ? (
        <>
          <p style={{ fontSize: 14, marginBottom: 6 }}>Before it can be tried or go live:</p>
          <Said findings={blocks} />
        </>
      ) : !trial ? (
        <Skeleton rows={4} />
      ) : trial.done < trial.leads ? (
        <p style={{ fontSize: 14 }}>
          Trying it: {whole(trial.done)} of {count(trial.leads, "lead")} so far.
        </p>
      ) : trial.changes.length === 0 ? (
        <p style={{ fontSize: 14, marginBottom: 14 }}>Nobody’s next move would be another one.</p>
      ) : (
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
                {open === key && <Who model={model} from={c.from} to={c.to} leads={c.leads} />}
              </li>
            );
          })}
        </List>
      )}
      {trial && <Teams trial={trial} name={model.names.handOver} />}
      <TextBox label="What it is for" value={draft.note} onChange={draft.setNote} />
      <div style={{ display: "flex", flexWrap: "wrap", gap: 10, alignItems: "center", marginTop: 12 }}>
        <Button look="main" isPending={busy} isDisabled={blocks.length > 0 || draft.state === "stale"} onPress={() => void act(draft.publish, `Edition ${next} is live; all leads are being scored by it`)}>
          Publish edition {next}
        </Button>
        <Button look="quiet" isDisabled={!draft.canUndo} onPress={draft.undo}>
          Undo
        </Button>
        {sure ? (
          <Button look="bad" onPress={() => void act(draft.drop, "The draft is gone; the live edition stays")}>
            Yes, drop the draft
          </Button>
        ) : (
          <Button look="quiet" onPress={() => setSure(true)}>
            Drop
          </Button>
        )}
      </div>
      <p style={{ fontSize: 13, color: "var(--soft)", marginTop: 8 }} role="status">
        {draft.state === "kept" ? "The draft is kept." : draft.state === "keeping" ? "Keeping the draft …" : ""}
      </p>
      {draft.state === "stale" && (
        <Warn>
          Somebody else changed this draft meanwhile, so yours is not kept.{" "}
          <Button look="quiet" style={{ padding: 0, minHeight: 0 }} onPress={() => void draft.takeTheirs().catch(tellError)}>
            Show theirs
          </Button>
        </Warn>
      )}
    </>
  );
}

function Who({ model, from, to, leads }: { model: Model; from: string; to: string; leads: number }) {
  const movers = useMovers(model, from, to);
  if (movers.isPending) return <Skeleton rows={3} />;
  if (movers.isError) return <Movers>{movers.error.message}</Movers>;
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

// More to hand over than there is room for, or simply more.
function Teams({ trial, name }: { trial: Trial; name: string }) {
  const changed = trial.teams.filter((t) => t.now !== t.then);
  if (changed.length === 0) return null;
  return (
    <div style={{ marginBottom: 14 }}>
      {changed.map((t) => {
        const more = t.then - t.now;
        const full = t.capacity > 0 && t.open >= t.capacity * 0.85;
        return (
          <Warn key={t.key} style={more > 0 && full ? undefined : { borderLeftColor: "var(--hair)" }}>
            <b>{t.name}</b> would have {whole(Math.abs(more))} {more > 0 ? "more" : "fewer"} under {name}
            {more > 0 && full ? `, and has ${whole(t.open)} of ${whole(t.capacity)} open leads already` : ""}.
          </Warn>
        );
      })}
    </div>
  );
}
