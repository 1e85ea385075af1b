import { useState } from "react";
import styled from "styled-components";
import { Button } from "../../parts/Button";
import { ChoiceBox, TextBox } from "../../parts/Field";
import { useTyped } from "../../parts/useTyped";
import type { Touch } from "../queries";

const Row = styled.div`
  display: grid;
  grid-template-columns: 180px 130px 110px 1fr;
  gap: 12px;
  align-items: end;
  margin-bottom: 10px;
  @media (max-width: 1100px) {
    grid-template-columns: 1fr 1fr;
  }
`;

const outcomes = [
  { key: "reached", label: "reached" },
  { key: "not_reached", label: "not reached" },
  { key: "left_message", label: "left a message" },
  { key: "call_back", label: "will call back" },
  { key: "wrong_number", label: "wrong number" },
];

const ways = [
  { key: "out", label: "we called" },
  { key: "in", label: "they called" },
];

/** Who called, how it ended, how long, what was said. */
export function CallForm({ lead, busy, onKeep }: { lead: string; busy: boolean; onKeep: (touch: Touch, done: () => void) => void }) {
  const [outcome, setOutcome] = useState("reached");
  const [way, setWay] = useState("out");
  const [minutes, setMinutes, forgetMinutes] = useTyped(`${lead}:call-minutes`, "");
  const [text, setText, forget] = useTyped(`${lead}:call`, "");
  const keep = () => onKeep({ kind: "call", text, outcome, incoming: way === "in", minutes: minutes ? Number(minutes) : null }, () => (forget(), forgetMinutes()));
  return (
    <form onSubmit={(e) => (e.preventDefault(), keep())}>
      <Row>
        <ChoiceBox label="How it ended" value={outcome} options={outcomes} onChange={setOutcome} />
        <ChoiceBox label="Who called" value={way} options={ways} onChange={setWay} />
        <TextBox label="Minutes" inputMode="numeric" value={minutes} onChange={(text) => setMinutes(text.replace(/\D/g, "").slice(0, 3))} />
      </Row>
      <TextBox label="What was said" lines value={text} onChange={setText} onKeyDown={(e) => e.key === "Enter" && e.ctrlKey && !busy && keep()} />
      <div className="row">
        <Button type="submit" isDisabled={busy}>
          Record the call
        </Button>
      </div>
    </form>
  );
}
