import styled from "styled-components";
import { AddCondition, ConditionText } from "../Conditions/ConditionText";
import { type Condition, type Field } from "../Conditions/conditions";
import { Button } from "../parts/Button";
import { TextBox } from "../parts/Field";
import { MaybeNumberBox } from "../common/NumberBox";
import { Said } from "../parts/Said";
import { small } from "../parts/theme";
import { Ticks } from "../parts/Ticks";
import { GoalEditor } from "./GoalEditor";
import { useRuleFields } from "./useRuleFields";
import { cellOf, fieldsOf, saidOf, withCell, type Finding, type Names, type Rule, type Sheet } from "./sheet";

const Form = styled.div`
  display: grid;
  gap: 12px;
  font-size: 14px;
  h3 {
    margin: 6px 0 -4px;
  }
  .acts {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 12px;
    align-items: center;
  }
  .acts button {
    padding: 0;
  }
  dl {
    display: grid;
    grid-template-columns: 96px 1fr;
    gap: 5px 10px;
    margin: 0;
  }
  dt {
    ${small}
  }
  dd {
    margin: 0;
  }
`;

type Props = { sheet: Sheet; at: number; names: Names; fields: Field[]; findings: readonly Finding[]; onChange?: (sheet: Sheet) => void; onMoved: (at: number) => void; onGone: () => void };

/** One rule: what it wants of each field, who gets what it takes, and how soon they answer. */
export function RuleEditor({ sheet, at, names, fields, findings, onChange, onMoved, onGone }: Props) {
  const rule = sheet.rules[at];
  if (!rule) return null;
  const set = (next: Rule) => onChange?.({ ...sheet, rules: sheet.rules.map((r, i) => (i === at ? next : r)) });
  const to = (place: number) => {
    const rest = sheet.rules.filter((_, i) => i !== at);
    onChange?.({ ...sheet, rules: [...rest.slice(0, place), rule, ...rest.slice(place)] });
    onMoved(place);
  };
  const copy = () => {
    const key = [...Array(sheet.rules.length + 2).keys()].map((n) => `${rule.key}-${n + 2}`).find((k) => sheet.rules.every((r) => r.key !== k))!;
    onChange?.({ ...sheet, rules: [...sheet.rules.slice(0, at + 1), { ...rule, key, name: `${rule.name}, again`.slice(0, 80) }, ...sheet.rules.slice(at + 1)] });
    onMoved(at + 1);
  };
  return (
    <Form>
      <Said findings={saidOf(findings, at)} />
      {onChange && <TextBox label="Name" value={rule.name} onChange={(name) => set({ ...rule, name })} />}
      <h3>Takes leads of which</h3>
      <Wants rule={rule} sheet={sheet} fields={fields} onChange={onChange && ((next, columns) => onChange({ ...sheet, columns, rules: sheet.rules.map((r, i) => (i === at ? next : r)) }))} />
      <h3>Goes to</h3>
      <GoalEditor to={rule.to} names={names} onChange={onChange && ((next) => set({ ...rule, to: next }))} />
      {onChange && (
        <>
          <MaybeNumberBox
            label="Minutes of work until an answer"
            shown="Minutes of work until an answer"
            placeholder={String(sheet.answerWithinMinutes)}
            least={1}
            most={43200}
            whole
            value={rule.answerWithinMinutes ?? undefined}
            onChange={(answerWithinMinutes) => set({ ...rule, answerWithinMinutes: answerWithinMinutes ?? null })}
          />
          <TextBox label="First task" placeholder={sheet.task} value={rule.task ?? ""} onChange={(task) => set({ ...rule, task })} />
          <TextBox label="Word to the new owner" lines value={rule.message ?? ""} onChange={(message) => set({ ...rule, message })} />
          <Ticks label="Urgent" options={[{ key: "urgent", label: "Its task stands before the others" }]} value={rule.urgent ? ["urgent"] : []} onChange={(keys) => set({ ...rule, urgent: keys.length > 0 })} />
          <Ticks
            label="Holds at these moments; on arrival and giving back where none is ticked"
            options={names.moments.filter((m) => m.key === "arrival" || (sheet.moments ?? []).includes(m.key) || (rule.moments ?? []).includes(m.key)).map((m) => ({ key: m.key, label: m.name }))}
            value={[...(rule.moments ?? [])]}
            onChange={(moments) => set({ ...rule, moments })}
          />
          <p className="acts">
            {at > 0 && (
              <Button look="quiet" onPress={() => to(at - 1)}>
                Move up
              </Button>
            )}
            {at < sheet.rules.length - 1 && (
              <Button look="quiet" onPress={() => to(at + 1)}>
                Move down
              </Button>
            )}
            <Button look="quiet" onPress={copy}>
              Copy
            </Button>
            <Button
              look="quiet"
              onPress={() => {
                onGone();
                onChange({ ...sheet, rules: sheet.rules.filter((_, i) => i !== at) });
              }}
            >
              Remove
            </Button>
          </p>
        </>
      )}
    </Form>
  );
}

type WantsProps = { rule: Rule; sheet: Sheet; fields: Field[]; onChange?: (rule: Rule, columns: string[]) => void };

function Wants({ rule, sheet, fields: all, onChange }: WantsProps) {
  const fields = useRuleFields(all, rule);
  const asked = fieldsOf(rule.when as Condition);
  const add = (leaf: Condition) => {
    const [field] = fieldsOf(leaf);
    const before = field ? cellOf(rule, field) : null;
    const cell = before ? ({ all: [before, leaf] } as Condition) : leaf;
    onChange?.(withCell(rule, field!, cell), sheet.columns.includes(field!) ? sheet.columns : [...sheet.columns, field!]);
  };
  return (
    <dl>
      {asked.length === 0 && (
        <>
          <dt />
          <dd>anything is true: it takes every lead</dd>
        </>
      )}
      {asked.map((field) => {
        const cell = cellOf(rule, field)!;
        return (
          <Asked key={field} label={fields.find((f) => f.key === field)?.label ?? field}>
            {onChange ? <ConditionText where={cell} fields={fields} path={[]} at={cell} onChange={(next) => onChange(withCell(rule, field, next), sheet.columns)} /> : <Plain cell={cell} fields={fields} />}
          </Asked>
        );
      })}
      {onChange && (
        <>
          <dt />
          <dd>
            <AddCondition fields={fields} onAdd={add} words="ask one thing more" />
          </dd>
        </>
      )}
    </dl>
  );
}

function Asked({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <>
      <dt>{label}</dt>
      <dd>{children}</dd>
    </>
  );
}

// Read only: the same words without a way to change them.
function Plain({ cell, fields }: { cell: Condition; fields: Field[] }) {
  return (
    <div style={{ pointerEvents: "none" }} inert>
      <ConditionText where={cell} fields={fields} path={[]} at={cell} onChange={() => undefined} />
    </div>
  );
}
