import { useState } from "react";
import { Radio, RadioGroup } from "react-aria-components";
import styled from "styled-components";
import { Button } from "../parts/Button";
import { TextBox } from "../parts/Field";
import { tell } from "../parts/Toast";
import { leadActs, useLeadAct, type Sheet } from "./queries";

const Box = styled.section`
  border-top: 1px solid var(--hair);
  padding: 12px 0 16px;
  .row {
    display: flex;
    justify-content: flex-end;
    margin-top: 8px;
  }
  label {
    position: absolute;
    width: 1px;
    height: 1px;
    overflow: hidden;
    clip-path: inset(50%);
  }
`;

const Kinds = styled(RadioGroup)`
  display: flex;
  gap: 18px;
  margin-bottom: 8px;
  font-size: 14px;
`;

const Kind = styled(Radio)`
  position: static !important;
  width: auto !important;
  height: auto !important;
  clip-path: none !important;
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
  { key: "note", label: "Note", hint: "What is worth remembering…", told: "Noted." },
  { key: "call", label: "Call, reached", hint: "What was said…", told: "The call is recorded; the clock is stopped." },
  { key: "call_missed", label: "Call, not reached", hint: "Left a message, try again when…", told: "The try is recorded; the clock is stopped." },
];

/** Records a touch where everyone can see it. Ctrl+Enter keeps it. */
export function Composer({ lead }: { lead: Sheet }) {
  const [kind, setKind] = useState("note");
  const [text, setText] = useState("");
  const act = useLeadAct(lead.id);
  const chosen = kinds.find((k) => k.key === kind)!;
  const keep = () => act.mutate(() => leadActs.touch(lead.id, kind, text), { onSuccess: () => (setText(""), tell(chosen.told)) });
  return (
    <Box aria-label="Record a touch" onKeyDown={(e) => e.key === "Enter" && e.ctrlKey && !act.isPending && keep()}>
      <Kinds aria-label="Kind of touch" orientation="horizontal" value={kind} onChange={setKind}>
        {kinds.map((k) => (
          <Kind key={k.key} value={k.key}>
            {k.label}
          </Kind>
        ))}
      </Kinds>
      <TextBox label={chosen.label} lines value={text} onChange={setText} placeholder={chosen.hint} />
      <div className="row">
        <Button onPress={keep} isDisabled={act.isPending || (kind === "note" && !text.trim())}>
          {kind === "note" ? "Keep the note" : "Record the call"}
        </Button>
      </div>
    </Box>
  );
}
