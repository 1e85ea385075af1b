import type { ReactNode } from "react";
import styled from "styled-components";
import { AddCondition, ConditionText } from "../Conditions/ConditionText";
import type { Condition, Field } from "../Conditions/conditions";
import { small } from "../parts/theme";
import { cellOf, fieldsOf, withCell, type Rule, type Sheet } from "./sheet";
import { useRuleFields } from "./useRuleFields";

const List = styled.dl`
  display: grid;
  grid-template-columns: 96px 1fr;
  gap: 5px 10px;
  margin: 0;
  dt {
    ${small}
  }
  dd {
    margin: 0;
  }
`;

const Still = styled.div`
  pointer-events: none;
`;

type Props = { rule: Rule; sheet: Sheet; fields: Field[]; onChange?: (rule: Rule, columns: string[]) => void };

/** What a rule wants of each field, a line each. */
export function RuleWants({ rule, sheet, fields: all, onChange }: Props) {
  const fields = useRuleFields(all, rule);
  const asked = fieldsOf(rule.when as Condition);
  const add = (leaf: Condition) => {
    const [field] = fieldsOf(leaf);
    const before = field ? cellOf(rule, field) : null;
    const cell = before ? ({ all: [before, leaf] } as Condition) : leaf;
    onChange?.(withCell(rule, field!, cell), sheet.columns.includes(field!) ? sheet.columns : [...sheet.columns, field!]);
  };
  return (
    <List>
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
    </List>
  );
}

function Asked({ label, children }: { label: string; children: ReactNode }) {
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
    <Still inert>
      <ConditionText where={cell} fields={fields} path={[]} at={cell} onChange={() => undefined} />
    </Still>
  );
}
