import type { Schema } from "../api/client";
import { AddCondition, ConditionText } from "../Conditions/ConditionText";
import { always, partsOf, type Condition, type Field } from "../Conditions/conditions";
import { useFields } from "../common/fields";

type Props = { threshold: string; questions: Schema["Question"][]; onChange: (threshold: string) => void; error?: string };

/** The threshold as a sentence of which each part is changed in place. Questions that are not kept yet can be asked after that. */
export function ThresholdText({ threshold, questions, onChange, error }: Props) {
  const fields: Field[] = useFields().data ?? [];
  const where = JSON.parse(threshold) as Condition;
  const parts = partsOf(where);
  const root = "all" in where;
  const put = (next: Condition | null) => onChange(JSON.stringify(next ?? always));
  const fresh = questions.filter((q) => !q.key);
  return (
    <>
      <p style={{ lineHeight: 1.8 }}>
        {parts.length === 0 && "Always: nothing is asked for. "}
        {parts.map((c, i) => [<ConditionText key={i} where={where} fields={fields} path={root ? [i] : []} at={c} onChange={put} />, i < parts.length - 1 ? ", and " : ". "])}
        <AddCondition fields={fields} onAdd={(leaf) => put(parts.length === 0 ? leaf : { all: [...parts, leaf] })} />
      </p>
      {fresh.length > 0 && <p style={{ fontSize: 13, color: "var(--soft)" }}>Keep the pipeline first to ask for the new {fresh.length === 1 ? "question" : "questions"} here.</p>}
      {error && (
        <p role="alert" style={{ color: "var(--bad)", fontSize: 13 }}>
          {error}
        </p>
      )}
    </>
  );
}
