import styled from "styled-components";
import type { Schema } from "../api/client";
import { useFields } from "../common/fields";
import { AddCondition, ConditionText } from "../Conditions/ConditionText";
import { always, partsOf, type Condition, type Field } from "../Conditions/conditions";
import { Hint, Wrong } from "../parts/Words";

const Sentence = styled.p`
  line-height: 1.8;
`;

type Props = { value: string; questions: Schema["Question"][]; onChange: (threshold: string) => void; error?: string };

/** The threshold as a sentence of which each part is changed in place. Questions that are not kept yet can be asked after that. */
export function ThresholdText({ value, questions, onChange, error }: Props) {
  const fields: Field[] = useFields().data ?? [];
  const where = JSON.parse(value) as Condition;
  const parts = partsOf(where);
  const root = "all" in where;
  const put = (next: Condition | null) => onChange(JSON.stringify(next ?? always));
  const fresh = questions.filter((q) => !q.key);
  return (
    <>
      <Sentence>
        {parts.length === 0 && "Always: nothing is asked for. "}
        {parts.map((c, i) => [<ConditionText key={i} where={where} fields={fields} path={root ? [i] : []} at={c} onChange={put} />, i < parts.length - 1 ? ", and " : ". "])}
        <AddCondition fields={fields} onAdd={(leaf) => put(parts.length === 0 ? leaf : { all: [...parts, leaf] })} />
      </Sentence>
      {fresh.length > 0 && <Hint>Keep the pipeline first to ask for the new {fresh.length === 1 ? "question" : "questions"} here.</Hint>}
      {error && <Wrong>{error}</Wrong>}
    </>
  );
}
