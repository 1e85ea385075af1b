import { useState } from "react";
import styled from "styled-components";
import { useUndoable } from "../../parts/acting";
import { Button } from "../../parts/Button";
import { TextBox } from "../../parts/Field";
import { exact } from "../../parts/format";
import { useSession } from "../../Setup/session";
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
`;

const isNote = (entry: Line) => entry.kind === "note" || entry.kind.startsWith("call");

function callWords({ kind, call }: Line) {
  if (!call) return kind === "call" ? "Call, reached. " : kind === "call_missed" ? "Call, not reached. " : "";
  return `${call.incoming ? "They called" : "Call"}, ${call.outcome.toLowerCase()}${call.minutes ? `, ${call.minutes} min` : ""}. `;
}

/** One entry of a story; notes and calls can be pinned, corrected and removed. */
export function Entry({ entry, mayWrite }: { entry: Line; mayWrite?: boolean }) {
  const { timeZone } = useSession();
  const run = useUndoable();
  const [editing, setEditing] = useState(false);
  const lead = leads[entry.kind] ?? callWords(entry);
  if (editing) return <Correct entry={entry} onDone={() => setEditing(false)} onKeep={(text) => run(() => acts.note(entry.id, { text }), "Corrected.", () => acts.note(entry.id, { text: entry.text }))} />;
  return (
    <div className="entry">
      {mayWrite && isNote(entry) && (
        <Acts>
          <Button look="quiet" onPress={() => void run(() => acts.note(entry.id, { pinned: !entry.pinned }), entry.pinned ? "No longer pinned." : "Pinned on top.", () => acts.note(entry.id, { pinned: entry.pinned }))}>
            {entry.pinned ? "Unpin" : "Pin"}
          </Button>
          {entry.editable && (
            <>
              <Button look="quiet" onPress={() => setEditing(true)}>
                Correct
              </Button>
              <Button look="quiet" onPress={() => void run(() => acts.removeNote(entry.id), "Removed.", () => acts.restoreNote(entry.id))}>
                Remove
              </Button>
            </>
          )}
        </Acts>
      )}
      {lead && <b>{lead}</b>}
      {isNote(entry) ? <NoteText text={entry.text} /> : entry.text}
      <small>
        {[entry.pinned && "pinned", entry.by].filter(Boolean).join(" · ")}
        {entry.editedAt && <span title={exact(entry.editedAt, timeZone)}>{entry.by || entry.pinned ? ", corrected" : "corrected"}</span>}
      </small>
    </div>
  );
}

function Correct({ entry, onDone, onKeep }: { entry: Line; onDone: () => void; onKeep: (text: string) => Promise<unknown> }) {
  const [text, setText] = useState(entry.text);
  return (
    <form
      className="entry"
      onSubmit={(e) => {
        e.preventDefault();
        void onKeep(text).then(onDone);
      }}
    >
      <TextBox label="Note" lines value={text} onChange={setText} onKeyDown={(e) => (e.key === "Escape" ? onDone() : e.continuePropagation())} autoFocus />
      <div style={{ display: "flex", gap: 10, marginTop: 6 }}>
        <Button type="submit" isDisabled={!text.trim()}>
          Keep
        </Button>
        <Button look="quiet" onPress={onDone}>
          Leave it
        </Button>
      </div>
    </form>
  );
}
