import styled from "styled-components";
import type { Schema } from "../api/client";
import { keys } from "../common/keys";
import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import { usePipelines } from "../common/pipelines";
import { DayBox } from "../parts/DayBox";
import { ChoiceBox, TextBox } from "../parts/Field";
import { Block, Columns, Stack } from "../parts/Layout";
import { leadActs, useLeadAct, type Sheet } from "./queries";

const Line = styled(Stack)`
  padding-bottom: 10px;
  border-bottom: 1px solid var(--hair);
`;

const certainties = [
  { key: "unknown", label: "unknown" },
  { key: "weak", label: "weak" },
  { key: "confirmed", label: "confirmed" },
];

type Question = Schema["QuestionView"];
type Said = Schema["QualificationAnswer"];

const asFound = ({ finding }: Question): Said => ({ certainty: finding.certainty, evidence: finding.evidence, saidBy: finding.saidBy ?? "", saidOn: finding.saidOn ?? null });

/** Each question with how sure the answer is, what says so, by whom it was said and when. */
export function QualifyingForm({ lead, onDone }: { lead: Sheet; onDone: () => void }) {
  const { questions, pipeline } = lead.qualifying;
  const pipelines = usePipelines().data ?? [];
  const act = useLeadAct(lead.id);
  // A draft holds the answers that were changed; they stay when the pipeline, and with it the questions, change.
  const form = useForm({ called: "the qualification", name: `${lead.id}:qualification`, initial: Object.fromEntries(questions.map((q) => [q.key, asFound(q)])) as Record<string, Said> });
  const send = () =>
    form.send((values) => leadActs.qualify(lead, { findings: Object.fromEntries(questions.map((q) => [q.key, values[q.key]!])) }).then(act.show), { changes: ["lead"], but: keys.lead(lead.id), words: "Qualification is recorded.", then: onDone });
  const turn = (to: string) => void act.run(() => leadActs.qualify(lead, { findings: {}, pipeline: to }), {});
  return (
    <FormBox form={form} words="Keep" onSend={send} onLeave={onDone} leaveWords="Cancel">
      {pipelines.length > 1 && (
        <Block $width={260}>
          <ChoiceBox label="Qualified for" value={pipeline} options={pipelines.map((p) => ({ key: p.key, label: p.name }))} onChange={turn} />
        </Block>
      )}
      {questions.map((q) => (
        <Answer key={q.key} question={q} said={form.values[q.key]!} onChange={(change) => form.set({ [q.key]: { ...form.values[q.key]!, ...change } })} error={form.said(q.key)} />
      ))}
    </FormBox>
  );
}

type AnswerProps = { question: Question; said: Said; onChange: (change: Partial<Said>) => void; error?: string };

// Who said it and when is asked once there is something that can be said.
function Answer({ question: { label, hint }, said, onChange, error }: AnswerProps) {
  const open = said.certainty !== "unknown" || !!said.evidence || !!said.saidBy || !!said.saidOn;
  return (
    <Line $gap={1} role="group" aria-label={label}>
      <Columns $of="132px minmax(0, 1fr)" $gap={2} $align="start">
        <ChoiceBox label={label} name={`${label}, certainty`} value={said.certainty} options={certainties} onChange={(k) => onChange({ certainty: k as Schema["Certainty"] })} />
        <TextBox label="What says so" aria-label={`${label}, evidence`} placeholder={hint} value={said.evidence} onChange={(evidence) => onChange({ evidence })} error={error} />
      </Columns>
      {open && (
        <Columns $of="minmax(0, 1fr) 180px" $gap={2} $align="start">
          <TextBox label="Said by" aria-label={`${label}, said by`} value={said.saidBy ?? ""} onChange={(saidBy) => onChange({ saidBy })} />
          <DayBox label="On" aria-label={`${label}, said on`} past value={said.saidOn ?? ""} onChange={(saidOn) => onChange({ saidOn: saidOn || null })} />
        </Columns>
      )}
    </Line>
  );
}
