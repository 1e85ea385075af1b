import { useState } from "react";
import styled from "styled-components";
import { useAct } from "../../common/acting";
import { useForm } from "../../common/form";
import { FormBox } from "../../common/FormBox";
import { useSession } from "../../common/session";
import { Button } from "../../parts/Button";
import { TextBox } from "../../parts/Field";
import { exact } from "../../parts/format";
import type { Sheet } from "../queries";
import { NoteText } from "./NoteText";
import { acts } from "./queries";

type Line = Sheet["story"][number];

const leads: Record<string, string> = { mail: "Letter. ", message: "Written to them. ", meeting: "Meeting. " };

const Acts = styled.span`
  float: right;
  margin-left: 12px;
  button {
    min-height: 24px;
    padding: 0 4px;
    font-size: 13px;
    font-weight: 450;
  }
  @media (hover: hover) {
    opacity: 0;
    li:hover &,
    li:focus-within & {
      opacity: 1;
    }
  }
  @media print {
    display: none;
  }
`;

const isNote = (entry: Line) => entry.kind === "note" || entry.kind.startsWith("call");

function callWords({ kind, call }: Line) {
  if (!call) return kind === "call" ? "Call, reached. " : kind === "call_missed" ? "Call, not reached. " : "";
  return `${call.incoming ? "They called" : "Call"}, ${call.outcome.toLowerCase()}${call.minutes ? `, ${call.minutes} min` : ""}. `;
}

/** One entry of a story; notes and calls can be pinned, corrected and removed. */
export function Entry({ entry, mayWrite }: { entry: Line; mayWrite?: boolean }) {
  const { timeZone } = useSession();
  const [editing, setEditing] = useState(false);
  const lead = leads[entry.kind] ?? callWords(entry);
  if (editing) return <Correct entry={entry} onDone={() => setEditing(false)} />;
  return (
    <div className="entry">
      {mayWrite && isNote(entry) && <EntryActs entry={entry} onCorrect={() => setEditing(true)} />}
      {lead && <b>{lead}</b>}
      {isNote(entry) ? <NoteText text={entry.text} /> : entry.text}
      <small>
        {[entry.pinned && "pinned", entry.by].filter(Boolean).join(" · ")}
        {entry.editedAt && <span title={exact(entry.editedAt, timeZone)}>{entry.by || entry.pinned ? ", corrected" : "corrected"}</span>}
      </small>
    </div>
  );
}

function EntryActs({ entry, onCorrect }: { entry: Line; onCorrect: () => void }) {
  const act = useAct();
  const pin = () => act.run(() => acts.note(entry.id, { pinned: !entry.pinned }), { changes: ["story"], words: entry.pinned ? "No longer pinned." : "Pinned on top.", back: () => acts.note(entry.id, { pinned: entry.pinned }) });
  const remove = () => act.run(() => acts.removeNote(entry.id), { changes: ["story"], words: "Removed.", back: () => acts.restoreNote(entry.id) });
  return (
    <Acts>
      <Button look="quiet" onPress={() => void pin()}>
        {entry.pinned ? "Unpin" : "Pin"}
      </Button>
      {entry.editable && (
        <>
          <Button look="quiet" onPress={onCorrect}>
            Correct
          </Button>
          <Button look="quiet" onPress={() => void remove()}>
            Remove
          </Button>
        </>
      )}
    </Acts>
  );
}

function Correct({ entry, onDone }: { entry: Line; onDone: () => void }) {
  const form = useForm({ called: "the correction", name: `${entry.id}:correction`, initial: { text: entry.text } });
  const send = () => form.send(({ text }) => acts.note(entry.id, { text }), { changes: ["story"], words: "Corrected.", back: () => acts.note(entry.id, { text: entry.text }), then: onDone });
  return (
    <div className="entry">
      <FormBox form={form} words="Keep" look="plain" onSend={send} onLeave={onDone} isReady={!!form.values.text.trim()}>
        <TextBox label="Note" lines {...form.bind("text")} autoFocus />
      </FormBox>
    </div>
  );
}
