import { useState } from "react";
import styled from "styled-components";
import { Button } from "../parts/Button";
import { ChoiceBox, TextBox } from "../parts/Field";
import { DayBox } from "../parts/DayBox";
import { numberOf } from "../common/numbers";
import { NumberText } from "../common/NumberText";
import { Picking } from "../parts/Picking";
import { operators, testOf, type Field, type Leaf, type Test } from "./conditions";

const Box = styled.form`
  display: flex;
  flex-direction: column;
  gap: 10px;
  padding: 14px;
  width: 320px;
  .acts {
    display: flex;
    flex-wrap: wrap;
    gap: 6px 10px;
    align-items: center;
  }
  label.not {
    display: flex;
    gap: 6px;
    align-items: center;
    font-size: 14px;
  }
`;

const fresh = (field: Field): Test => ({ field: field.key, is: field.operators[0]!.key, values: [] });

/** Shows stored values as one writes them, and reads them back; null for what cannot be read. */
function written(field: Field, test: Test): string[] {
  return isDate(field, test) ? test.values.map((v) => v.slice(0, 10)) : test.values;
}

const isNumber = (field: Field, test: Test) => !!field.operators.find((o) => o.key === test.is)?.days || field.type === "number" || field.type === "money";

const isDate = (field: Field, test: Test) => field.type === "date" && !field.operators.find((o) => o.key === test.is)?.days;

async function read(field: Field, test: Test, texts: string[]): Promise<string[] | null> {
  const given = texts.map((t) => t.trim()).filter(Boolean);
  const operator = field.operators.find((o) => o.key === test.is)!;
  if (given.length < operator.values) return null;
  if (isDate(field, test)) return given.map((d) => `${d}T00:00:00Z`);
  if (isNumber(field, test)) return (await Promise.all(given.map((t) => numberOf(t)))).map(String);
  return given;
}

type Props = {
  fields: Field[];
  start?: Leaf;
  /** Which field a new condition begins with. */
  onSet: (leaf: Leaf) => void;
  onRemove?: () => void;
  /** Puts a second condition beside: either may hold, or both must. */
  onBeside?: (leaf: Leaf, how: "any" | "all") => void;
  close: () => void;
};

/** One condition, changed in place: the field, how it is tested, with what. */
export function ConditionBox({ fields, start, onSet, onRemove, onBeside, close }: Props) {
  const [joining, setJoining] = useState<"any" | "all" | null>(null);
  const first = fields.find((f) => f.key === (start ? testOf(start).field : "country")) ?? fields[0]!;
  const [not, setNot] = useState(!!start && "not" in start);
  const [test, setTest] = useState<Test>(start ? testOf(start) : fresh(first));
  const field = fields.find((f) => f.key === test.field) ?? first;
  const [texts, setTexts] = useState(written(field, test));
  const [error, setError] = useState<string>();
  const operator = field.operators.find((o) => o.key === test.is);
  const change = (next: Test) => {
    setTest(next);
    setTexts([]);
    setError(undefined);
  };
  const join = (how: "any" | "all") => {
    setJoining(how);
    setNot(false);
    change(fresh(field));
  };
  const done = async () => {
    let values: string[] | null;
    try {
      values = await read(field, test, texts);
    } catch (e) {
      return setError((e as Error).message);
    }
    if (!values) return setError(isDate(field, test) ? operator?.values === 2 ? "Give both days." : "Give the day." : operator?.values === 2 ? "Give both numbers." : field.choices.length > 0 && test.is === "in" ? "Choose at least one." : operator?.days || field.type === "number" || field.type === "money" ? "Give a number." : "Say what it is to be.");
    const leaf: Leaf = not ? { not: { ...test, values } } : { ...test, values };
    if (joining) onBeside?.(leaf, joining);
    else onSet(leaf);
    close();
  };
  return (
    <Box
      onSubmit={(e) => {
        e.preventDefault();
        void done();
      }}
    >
      {joining && <p>{joining === "any" ? "Or it may be that" : "And at the same time"}</p>}
      <ChoiceBox label="Field" value={field.key} options={fields.map((f) => ({ key: f.key, label: f.label }))} onChange={(key) => change(fresh(fields.find((f) => f.key === key)!))} />
      <ChoiceBox label="Test" value={test.is} options={field.operators.map((o) => ({ key: o.key, label: operators[o.key] ?? o.key }))} onChange={(key) => change({ ...test, is: key, values: [] })} />
      {operator && operator.values > 0 && (
        <Values field={field} test={test} two={operator.values === 2} texts={texts} error={error} onChange={(next) => (setTexts(next), setError(undefined))} />
      )}
      <label className="not">
        <input type="checkbox" checked={not} onChange={(e) => setNot(e.target.checked)} /> must not hold
      </label>
      <div className="acts">
        <Button look="main" type="submit">
          {joining || !start ? "Add" : "Set"}
        </Button>
        {onBeside && !joining && (
          <>
            <Button look="quiet" onPress={() => join("any")}>
              or …
            </Button>
            <Button look="quiet" onPress={() => join("all")}>
              and …
            </Button>
          </>
        )}
        {onRemove && !joining && (
          <Button
            look="quiet"
            onPress={() => {
              onRemove();
              close();
            }}
          >
            Leave out
          </Button>
        )}
      </div>
    </Box>
  );
}

type ValuesProps = { field: Field; test: Test; two: boolean; texts: string[]; error?: string; onChange: (texts: string[]) => void };

function Values({ field, test, two, texts, error, onChange }: ValuesProps) {
  if (field.choices.length > 0 && test.is === "in") return <Picking label={field.label} options={field.choices} value={texts} onChange={onChange} error={error} />;
  const One = isNumber(field, test) ? NumberText : isDate(field, test) ? DayBox : TextBox;
  if (two)
    return (
      <div style={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 10 }}>
        <One label="From" value={texts[0] ?? ""} onChange={(v) => onChange([v, texts[1] ?? ""])} error={error} />
        <One label="To" value={texts[1] ?? ""} onChange={(v) => onChange([texts[0] ?? "", v])} />
      </div>
    );
  if (isNumber(field, test) || isDate(field, test)) {
    const label = isDate(field, test) ? "Day" : field.type === "date" ? "Days" : "Number";
    return <One label={label} value={texts.join("")} onChange={(v) => onChange([v])} error={error} />;
  }
  return <TextBox label="Text; a comma between several" value={texts.join(", ")} onChange={(v) => onChange(v.split(/,\s?/))} error={error} autoFocus />;
}
