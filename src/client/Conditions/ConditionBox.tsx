import { useState } from "react";
import styled from "styled-components";
import { numberOf } from "../common/numbers";
import { Button } from "../parts/Button";
import { ChoiceBox } from "../parts/Field";
import { Row } from "../parts/Layout";
import { Tick } from "../parts/Ticks";
import { ConditionValues, isDate, isNumber } from "./ConditionValues";
import { operators, testOf, type Field, type Leaf, type Test } from "./conditions";

const Box = styled.form`
  display: flex;
  flex-direction: column;
  gap: 10px;
  padding: 14px;
  width: 320px;
  max-width: calc(100vw - 24px);
`;

const fresh = (field: Field): Test => ({ field: field.key, is: field.operators[0]!.key, values: [] });

/** Stored values as one writes them. */
const written = (field: Field, test: Test) => (isDate(field, test) ? test.values.map((v) => v.slice(0, 10)) : test.values);

/** Reads back what was written; null where too little is given. What cannot be read is thrown. */
async function read(field: Field, test: Test, texts: string[]): Promise<string[] | null> {
  const given = texts.map((t) => t.trim()).filter(Boolean);
  const operator = field.operators.find((o) => o.key === test.is)!;
  if (given.length < operator.values) return null;
  if (isDate(field, test)) return given.map((d) => `${d}T00:00:00Z`);
  if (isNumber(field, test)) return (await Promise.all(given.map((t) => numberOf(t)))).map(String);
  return given;
}

/** What is asked for where too little is given. */
function wanted(field: Field, test: Test) {
  const two = field.operators.find((o) => o.key === test.is)?.values === 2;
  if (isDate(field, test)) return two ? "Give both days." : "Give the day.";
  if (two) return "Give both numbers.";
  if (field.choices.length > 0 && test.is === "in") return "Choose at least one.";
  return isNumber(field, test) ? "Give a number." : "Say what it is to be.";
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

function useCondition({ fields, start, onSet, onBeside, close }: Props) {
  const [joining, setJoining] = useState<"any" | "all" | null>(null);
  const first = fields.find((f) => f.key === (start ? testOf(start).field : "country")) ?? fields[0]!;
  const [not, setNot] = useState(!!start && "not" in start);
  const [test, setTest] = useState<Test>(start ? testOf(start) : fresh(first));
  const field = fields.find((f) => f.key === test.field) ?? first;
  const [texts, setTexts] = useState(written(field, test));
  const [error, setError] = useState<string>();
  const change = (next: Test) => {
    setTest(next);
    setTexts([]);
    setError(undefined);
  };
  const done = async () => {
    try {
      const values = await read(field, test, texts);
      if (!values) return setError(wanted(field, test));
      const leaf: Leaf = not ? { not: { ...test, values } } : { ...test, values };
      if (joining) onBeside?.(leaf, joining);
      else onSet(leaf);
      close();
    } catch (e) {
      setError((e as Error).message);
    }
  };
  return {
    joining,
    not,
    setNot,
    test,
    field,
    texts,
    error,
    change,
    done,
    write: (next: string[]) => {
      setTexts(next);
      setError(undefined);
    },
    join: (how: "any" | "all") => {
      setJoining(how);
      setNot(false);
      change(fresh(field));
    },
  };
}

/** One condition, changed in place: the field, how it is tested, with what. */
export function ConditionBox(props: Props) {
  const { fields, start, onRemove, onBeside, close } = props;
  const { joining, not, setNot, test, field, texts, error, change, done, write, join } = useCondition(props);
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
      <ConditionValues field={field} test={test} texts={texts} error={error} onChange={write} />
      <Tick value={not} onChange={setNot}>
        must not hold
      </Tick>
      <Row>
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
      </Row>
    </Box>
  );
}
