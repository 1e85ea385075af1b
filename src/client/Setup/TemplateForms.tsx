import styled from "styled-components";
import type { Schema } from "../api/client";
import { useFields } from "../common/fields";
import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import type { Change } from "../common/keys";
import { Button } from "../parts/Button";
import { ChoiceBox, TextBox } from "../parts/Field";

export type Template = Schema["MessageTemplate"];
export type Plan = Schema["StepPlan"];

type Way = { changes: readonly Change[]; words: string; back: () => Promise<unknown>; then: () => void };

/** How one of a list is kept, left and put away. */
export type Editing<T> = { keep: (one: T) => { work: () => Promise<unknown>; way: Way }; leave: () => void; drop?: () => void };

const Narrow = styled.div`
  max-width: 720px;
  padding: 8px 0 4px;
  textarea {
    min-height: 150px;
  }
`;

const PutAway = ({ onPress }: { onPress?: () => void }) =>
  onPress ? (
    <Button look="bad" onPress={onPress}>
      Put away
    </Button>
  ) : null;

/** A message template: its name, what consent it needs, subject and text. */
export function MessageEditor({ template, editing }: { template: Template; editing: Editing<Template> }) {
  const { key, label, purpose, subject, text } = template;
  const form = useForm({ called: "the message template", name: `message-template:${key || "new"}`, initial: { label, purpose: purpose ?? "", subject, text } });
  const purposes = (useFields().data ?? []).filter((f) => f.key.startsWith("consent_")).map((f) => ({ key: f.key.slice("consent_".length), label: f.label }));
  const now = form.values;
  const { work, way } = editing.keep({ key, ...now, purpose: now.purpose || null });
  return (
    <Narrow>
      <FormBox form={form} words="Keep" onSend={() => form.send(work, way)} onLeave={editing.leave} isReady={[now.label, now.subject, now.text].every((t) => t.trim())} beside={<PutAway onPress={editing.drop} />}>
        <TextBox label="Name" {...form.bind("label")} autoFocus />
        <ChoiceBox label="Needs their consent to" {...form.bind("purpose")} options={[{ key: "", label: "nothing: it answers what they asked" }, ...purposes]} />
        <TextBox label="Subject" {...form.bind("subject")} />
        <TextBox label="Message" lines {...form.bind("text")} hint="Facts stand in double braces: {{ first_name }}, {{ company }}, {{ interest | default: 'our offer' }}. {{ me }} is whoever writes." />
      </FormBox>
    </Narrow>
  );
}

/** The steps a text says, one a line: in how many days, then what is to be done. */
const stepsOf = (text: string) =>
  text
    .split("\n")
    .map((line) => /^\s*(\d+)\s+(.+)$/.exec(line))
    .flatMap((m) => (m ? [{ inDays: Number(m[1]), subject: m[2]!.trim() }] : []));

/** A step plan: its name and its steps, one a line. */
export function PlanEditor({ plan, editing }: { plan: Plan; editing: Editing<Plan> }) {
  const form = useForm({ called: "the step plan", name: `step-plan:${plan.key || "new"}`, initial: { label: plan.label, steps: plan.steps.map((s) => `${s.inDays} ${s.subject}`).join("\n") } });
  const { label, steps } = form.values;
  const read = stepsOf(steps);
  const lines = steps.split("\n").filter((l) => l.trim()).length;
  const { work, way } = editing.keep({ key: plan.key, label, steps: read });
  return (
    <Narrow>
      <FormBox form={form} words="Keep" onSend={() => form.send(work, way)} onLeave={editing.leave} isReady={!!label.trim() && read.length > 0 && lines === read.length} beside={<PutAway onPress={editing.drop} />}>
        <TextBox label="Name" {...form.bind("label")} autoFocus />
        <TextBox label="Steps, one a line" lines {...form.bind("steps")} hint="First in how many days, then what is to be done: 4 Ask about the budget" error={form.said("steps") ?? (lines > read.length ? "Each line begins with a number of days." : undefined)} />
      </FormBox>
    </Narrow>
  );
}
