import { useState } from "react";
import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { useStepPlans, useTemplates } from "../Leads/Activities/queries";
import { Bench, Inner, Pane } from "../parts/Bench";
import { useUndoable } from "../common/acting";
import { Button } from "../parts/Button";
import { ChoiceBox, TextBox } from "../parts/Field";
import { Skeleton, ErrorNote } from "../parts/States";
import { small } from "../parts/theme";
import { useFields } from "../common/fields";

const List = styled.ul`
  list-style: none;
  padding: 0;
  margin: 8px 0 14px;
  font-size: 14px;
  & > li {
    border-bottom: 1px solid var(--hair);
    padding: 8px 0;
  }
  .line {
    display: flex;
    justify-content: space-between;
    gap: 16px;
    align-items: baseline;
  }
  small {
    ${small}
    display: block;
  }
`;

const Form = styled.form`
  display: grid;
  gap: 10px;
  max-width: 720px;
  padding: 8px 0 4px;
  textarea {
    min-height: 150px;
  }
  .acts {
    display: flex;
    gap: 12px;
  }
`;

type Template = Schema["MessageTemplate"];
type Plan = Schema["StepPlan"];

const keyOf = (label: string) => `${label.toLowerCase().replace(/[^a-z0-9]+/g, "-").slice(0, 40)}-${Date.now().toString(36)}`;

/** Messages and steps that come again and again. */
export function TemplatesPage() {
  const templates = useTemplates();
  const plans = useStepPlans();
  return (
    <Bench>
      <Pane>
        <Inner>
          <h1>Templates</h1>
          <p style={{ color: "var(--soft)", marginBottom: 18 }}>What one writes and plans again and again, offered on every lead.</p>
          {(templates.isPending || plans.isPending) && <Skeleton rows={6} />}
          {templates.isError && <ErrorNote error={templates.error} />}
          {templates.data && <Messages all={templates.data} />}
          {plans.data && <Plans all={plans.data} />}
        </Inner>
      </Pane>
    </Bench>
  );
}

/** Keeps one more in a list, or one in place of what it was; a new one gets a key. */
function kept<T extends { key: string; label: string }>(all: T[], one: T): T[] {
  const done = { ...one, key: one.key || keyOf(one.label) };
  return all.some((t) => t.key === done.key) ? all.map((t) => (t.key === done.key ? done : t)) : [...all, done];
}

/** Keeping and putting away in a list that is written whole, with the way back to what it was; then nothing is open for writing any more. */
function useList<T extends { key: string; label: string }>(all: T[], write: (next: T[]) => Promise<unknown>) {
  const [open, setOpen] = useState<string>();
  const run = useUndoable();
  const put = async (next: T[], words: string) => void ((await run(() => write(next), words, () => write(all))) && setOpen(undefined));
  return { open, setOpen, keep: (one: T) => put(kept(all, one), `“${one.label}” is kept.`), drop: (one: T) => put(all.filter((t) => t !== one), `“${one.label}” is put away.`) };
}

function Messages({ all }: { all: Template[] }) {
  const { open, setOpen, keep, drop } = useList(all, (next) => must(api.PUT("/api/message-templates", { body: next })));
  const fresh: Template = { key: "", label: "", purpose: null, subject: "", text: "" };
  return (
    <section aria-label="Messages" style={{ marginBottom: 26 }}>
      <h2>Messages</h2>
      <List>
        {all.map((t) => (
          <li key={t.key}>
            {open === t.key ? (
              <MessageEditor template={t} onKeep={keep} onLeave={() => setOpen(undefined)} onDrop={() => void drop(t)} />
            ) : (
              <div className="line">
                <span>
                  <b>{t.label}</b>
                  <small>{t.subject}</small>
                </span>
                <Button look="quiet" onPress={() => setOpen(t.key)} aria-label={`Change ${t.label}`}>
                  Change
                </Button>
              </div>
            )}
          </li>
        ))}
      </List>
      {open === "new" ? <MessageEditor template={fresh} onKeep={keep} onLeave={() => setOpen(undefined)} /> : <Button onPress={() => setOpen("new")}>New message template</Button>}
    </section>
  );
}

type MessageProps = { template: Template; onKeep: (template: Template) => Promise<void>; onLeave: () => void; onDrop?: () => void };

function MessageEditor({ template, onKeep, onLeave, onDrop }: MessageProps) {
  const [now, setNow] = useState(template);
  const purposes = (useFields().data ?? []).filter((f) => f.key.startsWith("consent_")).map((f) => ({ key: f.key.slice("consent_".length), label: f.label }));
  return (
    <Form onSubmit={(e) => (e.preventDefault(), void onKeep(now))}>
      <TextBox label="Name" value={now.label} onChange={(label) => setNow({ ...now, label })} autoFocus />
      <ChoiceBox label="Needs their consent to" value={now.purpose ?? ""} options={[{ key: "", label: "nothing: it answers what they asked" }, ...purposes]} onChange={(purpose) => setNow({ ...now, purpose: purpose || null })} />
      <TextBox label="Subject" value={now.subject} onChange={(subject) => setNow({ ...now, subject })} />
      <TextBox label="Message" lines value={now.text} onChange={(text) => setNow({ ...now, text })} hint="Facts stand in double braces: {{ first_name }}, {{ company }}, {{ interest | default: 'measuring water' }}. {{ me }} is whoever writes." />
      <Acts ready={!!now.label.trim() && !!now.subject.trim() && !!now.text.trim()} onLeave={onLeave} onDrop={onDrop} />
    </Form>
  );
}

function Acts({ ready, onLeave, onDrop }: { ready: boolean; onLeave: () => void; onDrop?: () => void }) {
  return (
    <div className="acts">
      <Button type="submit" look="main" isDisabled={!ready}>
        Keep
      </Button>
      <Button onPress={onLeave}>Leave it</Button>
      {onDrop && (
        <Button look="bad" onPress={onDrop}>
          Put away
        </Button>
      )}
    </div>
  );
}

function Plans({ all }: { all: Plan[] }) {
  const { open, setOpen, keep, drop } = useList(all, (next) => must(api.PUT("/api/step-plans", { body: next })));
  return (
    <section aria-label="Step plans">
      <h2>Steps that follow one another</h2>
      <List>
        {all.map((p) => (
          <li key={p.key}>
            {open === p.key ? (
              <PlanEditor plan={p} onKeep={keep} onLeave={() => setOpen(undefined)} onDrop={() => void drop(p)} />
            ) : (
              <div className="line">
                <span>
                  <b>{p.label}</b>
                  <small>{p.steps.map((s) => `${s.inDays === 0 ? "today" : `day ${s.inDays}`}: ${s.subject}`).join(" · ")}</small>
                </span>
                <Button look="quiet" onPress={() => setOpen(p.key)} aria-label={`Change ${p.label}`}>
                  Change
                </Button>
              </div>
            )}
          </li>
        ))}
      </List>
      {open === "new" ? <PlanEditor plan={{ key: "", label: "", steps: [{ subject: "", inDays: 0 }] }} onKeep={keep} onLeave={() => setOpen(undefined)} /> : <Button onPress={() => setOpen("new")}>New step plan</Button>}
    </section>
  );
}

type PlanProps = { plan: Plan; onKeep: (plan: Plan) => Promise<void>; onLeave: () => void; onDrop?: () => void };

function PlanEditor({ plan, onKeep, onLeave, onDrop }: PlanProps) {
  const [label, setLabel] = useState(plan.label);
  const [steps, setSteps] = useState(plan.steps.map((s) => `${s.inDays} ${s.subject}`).join("\n"));
  const read = steps
    .split("\n")
    .map((line) => /^\s*(\d+)\s+(.+)$/.exec(line))
    .flatMap((m) => (m ? [{ inDays: Number(m[1]), subject: m[2]!.trim() }] : []));
  const lines = steps.split("\n").filter((l) => l.trim()).length;
  return (
    <Form onSubmit={(e) => (e.preventDefault(), void onKeep({ key: plan.key, label, steps: read }))}>
      <TextBox label="Name" value={label} onChange={setLabel} autoFocus />
      <TextBox label="Steps, one a line" lines value={steps} onChange={setSteps} hint="First in how many days, then what is to be done: 4 Ask about the budget" error={lines > read.length ? "Each line begins with a number of days." : undefined} />
      <Acts ready={!!label.trim() && read.length > 0 && lines === read.length} onLeave={onLeave} onDrop={onDrop} />
    </Form>
  );
}
