import styled from "styled-components";
import { partsOf, type Condition, type Field } from "../Conditions/conditions";
import { AddCondition, ConditionText, Part } from "../Conditions/ConditionText";
import { serif } from "../parts/theme";

const Words = styled.h1`
  ${serif}
  font-size: 17px;
  font-weight: 450;
  line-height: 1.6;
  text-wrap: pretty;
`;

type Props = { where: Condition; fields: Field[]; text: string; order: string; onChange: (where: Condition | null) => void; onClearText: () => void };

/** The conditions as one sentence; each part is changed in place. */
export function Sentence({ where, fields, text, order, onChange, onClearText }: Props) {
  const parts = partsOf(where);
  const root = "all" in where;
  return (
    <Words>
      {parts.length === 0 && !text ? "All leads, " : "Leads where "}
      {text && (
        <>
          <Part onPress={onClearText}>
            “{text}” is found ×
          </Part>
          {", "}
        </>
      )}
      {parts.map((c, i) => [<ConditionText key={i} where={where} fields={fields} path={root ? [i] : []} at={c} onChange={onChange} />, ", "])}
      {order}.{" "}
      <AddCondition fields={fields} onAdd={(leaf) => onChange(parts.length === 0 ? leaf : { all: [...parts, leaf] })} />
    </Words>
  );
}
