import styled from "styled-components";
import { MaybeNumberBox } from "../common/NumberBox";
import type { Field } from "../Conditions/conditions";
import { Button } from "../parts/Button";
import { TextBox } from "../parts/Field";
import { Said } from "../parts/Said";
import { Tick, Ticks } from "../parts/Ticks";
import { GoalEditor } from "./GoalEditor";
import { RuleWants } from "./RuleWants";
import { saidOf, type Finding, type Names, type Rule, type Sheet } from "./sheet";

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
`;

type Props = { sheet: Sheet; at: number; names: Names; fields: Field[]; findings: readonly Finding[]; onChange?: (sheet: Sheet) => void; onMoved: (at: number) => void; onGone: () => void };

/** One rule: what it wants of each field, who gets what it takes, and how soon they answer. */
export function RuleEditor({ sheet, at, names, fields, findings, onChange, onMoved, onGone }: Props) {
  const rule = sheet.rules[at];
  if (!rule) return null;
  const put = (next: Rule) => sheet.rules.map((r, i) => (i === at ? next : r));
  const set = onChange && ((part: Partial<Rule>) => onChange({ ...sheet, rules: put({ ...rule, ...part }) }));
  return (
    <Form>
      <Said findings={saidOf(findings, at)} />
      {set && <TextBox label="Name" value={rule.name} onChange={(name) => set({ name })} />}
      <h3>Takes leads of which</h3>
      <RuleWants rule={rule} sheet={sheet} fields={fields} onChange={onChange && ((next, columns) => onChange({ ...sheet, columns, rules: put(next) }))} />
      <h3>Goes to</h3>
      <GoalEditor to={rule.to} names={names} onChange={set && ((to) => set({ to }))} />
      {onChange && set && (
        <>
          <Answering rule={rule} sheet={sheet} names={names} onSet={set} />
          <Acts sheet={sheet} at={at} onChange={onChange} onMoved={onMoved} onGone={onGone} />
        </>
      )}
    </Form>
  );
}

type AnsweringProps = { rule: Rule; sheet: Sheet; names: Names; onSet: (part: Partial<Rule>) => void };

// How soon, by what task and in which words the new owner hears of it, and when the rule holds.
function Answering({ rule, sheet, names, onSet }: AnsweringProps) {
  const known = [...(sheet.moments ?? []), ...(rule.moments ?? []), "arrival"];
  return (
    <>
      <MaybeNumberBox
        label="Minutes of work until an answer"
        shown="Minutes of work until an answer"
        placeholder={String(sheet.answerWithinMinutes)}
        least={1}
        most={43200}
        whole
        value={rule.answerWithinMinutes ?? undefined}
        onChange={(answerWithinMinutes) => onSet({ answerWithinMinutes: answerWithinMinutes ?? null })}
      />
      <TextBox label="First task" placeholder={sheet.task} value={rule.task ?? ""} onChange={(task) => onSet({ task })} />
      <TextBox label="Word to the new owner" lines value={rule.message ?? ""} onChange={(message) => onSet({ message })} />
      <Tick value={!!rule.urgent} onChange={(urgent) => onSet({ urgent })}>
        Its task stands before the others
      </Tick>
      <Ticks
        label="Holds at these moments; on arrival and giving back where none is ticked"
        options={names.moments.filter((m) => known.includes(m.key)).map((m) => ({ key: m.key, label: m.name }))}
        value={[...(rule.moments ?? [])]}
        onChange={(moments) => onSet({ moments })}
      />
    </>
  );
}

type ActsProps = { sheet: Sheet; at: number; onChange: (sheet: Sheet) => void; onMoved: (at: number) => void; onGone: () => void };

// A key like the copied rule's that no other has.
const keyLike = (sheet: Sheet, key: string) => [...Array(sheet.rules.length + 2).keys()].map((n) => `${key}-${n + 2}`).find((k) => sheet.rules.every((r) => r.key !== k))!;

function Acts({ sheet, at, onChange, onMoved, onGone }: ActsProps) {
  const rule = sheet.rules[at]!;
  const rest = sheet.rules.filter((_, i) => i !== at);
  const to = (place: number) => {
    onChange({ ...sheet, rules: [...rest.slice(0, place), rule, ...rest.slice(place)] });
    onMoved(place);
  };
  const copy = () => {
    const again = { ...rule, key: keyLike(sheet, rule.key), name: `${rule.name}, again`.slice(0, 80) };
    onChange({ ...sheet, rules: [...sheet.rules.slice(0, at + 1), again, ...sheet.rules.slice(at + 1)] });
    onMoved(at + 1);
  };
  const remove = () => {
    onGone();
    onChange({ ...sheet, rules: rest });
  };
  return (
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
      <Button look="quiet" onPress={remove}>
        Remove
      </Button>
    </p>
  );
}
