import { Radio, RadioGroup } from "react-aria-components";
import styled from "styled-components";
import { Button } from "../parts/Button";
import { TextBox } from "../parts/Field";
import { unseen } from "../parts/theme";
import { tell } from "../parts/Toast";
import { useTyped } from "../parts/useTyped";
import { useRefresh } from "../Setup/session";
import { CallForm } from "./Activities/CallForm";
import { MeetingForm } from "./Activities/MeetingForm";
import { MessageForm } from "./Activities/MessageForm";
import { acts } from "./Activities/queries";
import { TaskForm } from "./Activities/TaskForm";
import { leadActs, useLeadAct, type Sheet, type Touch } from "./queries";

const Box = styled.section`
  border-top: 1px solid var(--hair);
  padding: 12px 0 16px;
  .row {
    display: flex;
    justify-content: flex-end;
    margin-top: 8px;
  }
  .note label {
    ${unseen}
  }
`;

const Kinds = styled(RadioGroup)`
  display: flex;
  gap: 18px;
  margin-bottom: 8px;
  font-size: 14px;
`;

const Kind = styled(Radio)`
  color: var(--soft);
  cursor: pointer;
  padding-bottom: 2px;
  border-bottom: 2px solid transparent;
  &[data-selected] {
    color: var(--ink);
    font-weight: 620;
    border-color: var(--ink);
  }
`;

const kinds = [
  { key: "note", label: "Note" },
  { key: "call", label: "Call" },
  { key: "message", label: "Message" },
  { key: "task", label: "Next step" },
  { key: "meeting", label: "Meeting" },
];

/** Records what happened and plans what comes next, where everyone can see it. Ctrl+Enter keeps a note or call. */
export function Composer({ lead }: { lead: Sheet }) {
  const [kind, setKind] = useTyped(`${lead.id}:kind`, "note");
  const act = useLeadAct(lead.id);
  const refresh = useRefresh();
  const touch = (body: Touch, done: () => void) => act.mutate(() => leadActs.touch(lead.id, body), { onSuccess: () => (done(), tell(body.kind === "note" ? "Noted." : "The call is recorded; the clock is stopped.")) });
  return (
    <Box aria-label="Record and plan">
      <Kinds aria-label="Kind" orientation="horizontal" value={kind} onChange={setKind}>
        {kinds.map((k) => (
          <Kind key={k.key} value={k.key}>
            {k.label}
          </Kind>
        ))}
      </Kinds>
      {kind === "note" && <NoteForm lead={lead.id} busy={act.isPending} onKeep={touch} />}
      {kind === "call" && <CallForm lead={lead.id} busy={act.isPending} onKeep={touch} />}
      {kind === "message" && <MessageForm lead={lead} onSent={() => (tell("It is on its way; the clock is stopped."), void refresh())} />}
      {kind === "task" && <TaskForm record={lead.id} onKeep={(body) => acts.plan(lead.id, body).then(() => (tell("Planned."), refresh()))} onSteps={(plan) => acts.planSteps(lead.id, plan).then(() => (tell("The steps are planned."), refresh()))} />}
      {kind === "meeting" && <MeetingForm record={lead.id} onKeep={(body) => acts.meet(lead.id, body).then(() => (tell("The meeting is planned."), setKind("note"), refresh()))} />}
    </Box>
  );
}

function NoteForm({ lead, busy, onKeep }: { lead: string; busy: boolean; onKeep: (touch: Touch, done: () => void) => void }) {
  const [text, setText, forget] = useTyped(`${lead}:note`, "");
  const keep = () => onKeep({ kind: "note", text, incoming: false }, forget);
  return (
    <div className="note">
      <TextBox label="Note" lines value={text} onChange={setText} onKeyDown={(e) => e.key === "Enter" && e.ctrlKey && !busy && text.trim() && keep()} placeholder="What is worth remembering… **strong**, *slanted*, - for a list" />
      <div className="row">
        <Button onPress={keep} isDisabled={busy || !text.trim()}>
          Keep the note
        </Button>
      </div>
    </div>
  );
}
