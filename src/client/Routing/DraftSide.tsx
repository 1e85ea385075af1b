import { useState } from "react";
import styled from "styled-components";
import { Button } from "../parts/Button";
import { TextBox } from "../parts/Field";
import { count, day, whole } from "../parts/format";
import { Said } from "../parts/Said";
import { Skeleton } from "../parts/States";
import { tell, tellError } from "../parts/Toast";
import { small } from "../parts/theme";
import { usePlay } from "./queries";
import type { Finding, Sheet } from "./sheet";
import type { Draft } from "./useDraft";

export const Lines = styled.ul`
  list-style: none;
  padding: 0;
  margin: 0 0 14px;
  font-size: 14px;
  li {
    display: grid;
    grid-template-columns: 1fr auto;
    gap: 10px;
    padding: 6px 0;
    border-bottom: 1px solid var(--hair);
  }
  b {
    font-weight: 640;
  }
  small {
    ${small}
  }
`;

const last = 2000;

type Props = { draft: Draft; sheet: Sheet; findings: readonly Finding[] | undefined; number: number; onTrial: () => void };

/** What the draft would change against what happened, and the way to make it live. */
export function DraftSide({ draft, sheet, findings, number, onTrial }: Props) {
  const [busy, setBusy] = useState(false);
  const [sure, setSure] = useState(false);
  const play = usePlay(sheet, last);
  const blocks = findings?.filter((f) => f.blocks) ?? [];
  const act = async (work: () => Promise<unknown>, words: string) => {
    setBusy(true);
    try {
      await work();
      tell(words);
    } catch (e) {
      tellError(e);
    }
    setBusy(false);
  };
  if (draft.state === "stale")
    return (
      <>
        <p style={{ fontSize: 14, marginBottom: 12 }}>Somebody else changed the draft meanwhile. What you see here was not kept.</p>
        <Button look="main" onPress={() => void act(draft.takeTheirs, "This is the draft as it is now")}>
          Show theirs
        </Button>
      </>
    );
  return (
    <>
      {play.isPending ? <Skeleton rows={4} /> : play.isError ? <p style={{ fontSize: 14, color: "var(--bad)" }}>{play.error.message}</p> : <Changes play={play.data} onTrial={onTrial} />}
      {blocks.length > 0 && <Said findings={blocks.slice(0, 3)} />}
      <TextBox label="What it is for" value={draft.note} onChange={draft.setNote} />
      <p style={{ display: "flex", flexWrap: "wrap", gap: 10, alignItems: "center", marginTop: 14 }}>
        <Button look="main" isDisabled={busy || !findings || blocks.length > 0} onPress={() => void act(draft.publish, `Edition ${number} is live`)}>
          Publish as edition {number}
        </Button>
        {draft.canUndo && (
          <Button look="quiet" onPress={draft.undo}>
            Undo
          </Button>
        )}
        {sure ? (
          <Button look="bad" onPress={() => void act(draft.drop, "The draft is gone")}>
            Yes, drop it
          </Button>
        ) : (
          <Button look="quiet" onPress={() => setSure(true)}>
            Drop the draft
          </Button>
        )}
      </p>
      <p role="status" style={{ fontSize: 13, color: "var(--soft)", marginTop: 10 }}>
        {blocks.length > 0 ? `${count(blocks.length, "thing")} to mend before it can go live.` : draft.state === "keeping" ? "Keeping …" : "The draft is kept. Nothing goes live before you publish it."}
      </p>
    </>
  );
}

type Play = NonNullable<ReturnType<typeof usePlay>["data"]>;

function Changes({ play, onTrial }: { play: Play; onTrial: () => void }) {
  const teams = play.teams.filter((t) => t.now !== t.then);
  return (
    <>
      <p style={{ fontSize: 14, marginBottom: 8 }}>
        Of the last {count(play.leads, "lead")}
        {play.from ? `, since ${day(play.from)}` : ""}, {whole(play.changed)} would go to somebody else than they did.
      </p>
      <Lines>
        {teams.map((t) => (
          <li key={t.key}>
            <span>{t.name}</span>
            <span>
              {whole(t.then)} <small>to</small> <b>{whole(t.now)}</b>
            </span>
          </li>
        ))}
        <li>
          <span>no rule, or held</span>
          <b>{whole(play.noRule + play.held)}</b>
        </li>
      </Lines>
      <p style={{ marginBottom: 14 }}>
        <Button look="quiet" style={{ padding: 0 }} onPress={onTrial}>
          Who, by person and lead
        </Button>
      </p>
    </>
  );
}
