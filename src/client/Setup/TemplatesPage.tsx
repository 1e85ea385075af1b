import { useState, type ReactNode } from "react";
import styled from "styled-components";
import { api, must } from "../api/client";
import { useAct } from "../common/acting";
import { useStepPlans, useTemplates } from "../Leads/Activities/queries";
import { Button } from "../parts/Button";
import { Block } from "../parts/Layout";
import { small } from "../parts/theme";
import { SetupPage } from "./SetupPage";
import { MessageEditor, PlanEditor, type Editing, type Plan, type Template } from "./TemplateForms";

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

/** Messages and steps that come again and again. */
export function TemplatesPage() {
  const templates = useTemplates();
  const plans = useStepPlans();
  return (
    <SetupPage title="Templates" intro="What one writes and plans again and again, offered on every lead." query={templates}>
      {(messages) => (
        <>
          <Messages all={messages} />
          {plans.data && <Plans all={plans.data} />}
        </>
      )}
    </SetupPage>
  );
}

type Named = { key: string; label: string };

const keyOf = (label: string) => `${label.toLowerCase().replace(/[^a-z0-9]+/g, "-").slice(0, 40)}-${Date.now().toString(36)}`;

/** Keeps one more in a list, or one in place of what it was; a new one gets a key. */
function kept<T extends Named>(all: T[], one: T): T[] {
  const done = { ...one, key: one.key || keyOf(one.label) };
  return all.some((t) => t.key === done.key) ? all.map((t) => (t.key === done.key ? done : t)) : [...all, done];
}

type ListProps<T> = { label: string; title: string; fresh: T; freshWords: string; all: T[]; write: (next: T[]) => Promise<unknown>; line: (one: T) => string; renderEditor: (one: T, editing: Editing<T>) => ReactNode };

/** A list that is written whole, of which one is changed in place; each change has its way back. */
function EditedList<T extends Named>({ label, title, fresh, freshWords, all, write, line, renderEditor }: ListProps<T>) {
  const [open, setOpen] = useState<string>();
  const act = useAct();
  const close = () => setOpen(undefined);
  const put = (next: T[], words: string) => ({ work: () => write(next), way: { changes: ["setup"] as const, words, back: () => write(all), then: close } });
  const editing = (one?: T): Editing<T> => ({
    keep: (next) => put(kept(all, next), `“${next.label}” is kept.`),
    leave: close,
    drop: one && (() => {
      const { work, way } = put(all.filter((t) => t !== one), `“${one.label}” is put away.`);
      void act.run(work, way);
    }),
  });
  return (
    <Block as="section" aria-label={label} $below={6}>
      <h2>{title}</h2>
      <List>
        {all.map((t) => (
          <li key={t.key}>
            {open === t.key ? (
              renderEditor(t, editing(t))
            ) : (
              <div className="line">
                <span>
                  <b>{t.label}</b>
                  <small>{line(t)}</small>
                </span>
                <Button look="quiet" onPress={() => setOpen(t.key)} aria-label={`Change ${t.label}`}>
                  Change
                </Button>
              </div>
            )}
          </li>
        ))}
      </List>
      {open === "new" ? renderEditor(fresh, editing()) : <Button onPress={() => setOpen("new")}>{freshWords}</Button>}
    </Block>
  );
}

const newMessage: Template = { key: "", label: "", purpose: null, subject: "", text: "" };
const newPlan: Plan = { key: "", label: "", steps: [{ subject: "", inDays: 0 }] };

const Messages = ({ all }: { all: Template[] }) => (
  <EditedList
    label="Messages"
    title="Messages"
    fresh={newMessage}
    freshWords="New message template"
    all={all}
    write={(body) => must(api.PUT("/api/message-templates", { body }))}
    line={(t) => t.subject}
    renderEditor={(t, editing) => <MessageEditor template={t} editing={editing} />}
  />
);

const Plans = ({ all }: { all: Plan[] }) => (
  <EditedList
    label="Step plans"
    title="Steps that follow one another"
    fresh={newPlan}
    freshWords="New step plan"
    all={all}
    write={(body) => must(api.PUT("/api/step-plans", { body }))}
    line={(p) => p.steps.map((s) => `${s.inDays === 0 ? "today" : `day ${s.inDays}`}: ${s.subject}`).join(" · ")}
    renderEditor={(p, editing) => <PlanEditor plan={p} editing={editing} />}
  />
);
