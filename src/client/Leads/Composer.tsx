import { Radio, RadioGroup } from "react-aria-components";
import styled from "styled-components";
import { useDraft } from "../common/draft";
import { CallForm } from "./Activities/CallForm";
import { MeetingForm } from "./Activities/MeetingForm";
import { MessageForm } from "./Activities/MessageForm";
import { NoteForm } from "./Activities/NoteForm";
import { acts } from "./Activities/queries";
import { TaskForm } from "./Activities/TaskForm";
import type { Sheet } from "./queries";

const Box = styled.section`
  padding: 8px 0 10px;
  border-bottom: 1px solid var(--hair);
  @media print {
    display: none;
  }
`;

const Kinds = styled(RadioGroup)`
  display: flex;
  flex-wrap: wrap;
  gap: 2px 18px;
  margin-bottom: 8px;
  font-size: 14px;
`;

const Kind = styled(Radio)`
  color: var(--soft);
  cursor: pointer;
  min-height: 24px;
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

/** Records what happened and plans what comes next, where everyone can see it. Ctrl+Enter sends. */
export function Composer({ lead }: { lead: Sheet }) {
  const { values, set } = useDraft(`${lead.id}:kind`, { kind: "note" });
  const { kind } = values;
  return (
    <Box aria-label="Record and plan" data-landing="composer">
      <Kinds aria-label="Kind" orientation="horizontal" value={kind} onChange={(next) => set({ kind: next })}>
        {kinds.map((k) => (
          <Kind key={k.key} value={k.key}>
            {k.label}
          </Kind>
        ))}
      </Kinds>
      {kind === "note" && <NoteForm lead={lead.id} />}
      {kind === "call" && <CallForm lead={lead.id} />}
      {kind === "message" && <MessageForm lead={lead} />}
      {kind === "task" && <TaskForm record={lead.id} onKeep={(body) => acts.plan(lead.id, body)} onSteps={(plan) => acts.planSteps(lead.id, plan)} />}
      {kind === "meeting" && <MeetingForm record={lead.id} onKeep={(body) => acts.meet(lead.id, body)} onDone={() => set({ kind: "note" })} />}
    </Box>
  );
}
