import { DialogTrigger } from "react-aria-components";
import styled from "styled-components";
import { ConditionBox } from "../Conditions/ConditionBox";
import { Part } from "../Conditions/ConditionText";
import { isLeaf, type Condition, type Field } from "../Conditions/conditions";
import { Hanging } from "../parts/Hanging";
import { cellOf, withCell, type Rule } from "./sheet";

const Cell = styled(Part)`
  border: 0;
  color: inherit;
  text-decoration: underline;
  text-decoration-color: var(--hair);
  text-underline-offset: 4px;
  &[data-open] {
    color: var(--soft);
    text-decoration-color: transparent;
  }
`;

type CellProps = { rule: Rule; column: string; words: string; fields: Field[]; onChoose: () => void; onChange?: (rule: Rule) => void };

/** What a rule wants of one field; changed where it stands. */
export function RuleCell({ rule, column, words, fields, onChoose, onChange }: CellProps) {
  const shown = words || "any";
  const cell = cellOf(rule, column);
  const field = fields.find((f) => f.key === column);
  if (!onChange || !field) return <span>{shown}</span>;
  // More than one test in a cell is changed beside the sheet, where there is room for it.
  if (cell && !isLeaf(cell))
    return (
      <Cell onPress={onChoose} aria-label={`${field.label} of ${rule.name}: ${shown}`}>
        {shown}
      </Cell>
    );
  return (
    <DialogTrigger>
      <Cell data-open={words ? undefined : ""} aria-label={`${field.label} of ${rule.name}: ${shown}`}>
        {shown}
      </Cell>
      <Hanging label={`${field.label} of ${rule.name}`}>
        {(close) => (
          <ConditionBox
            fields={[field]}
            start={cell ?? undefined}
            onSet={(leaf) => onChange(withCell(rule, column, leaf as Condition))}
            onRemove={cell ? () => onChange(withCell(rule, column, null)) : undefined}
            close={close}
          />
        )}
      </Hanging>
    </DialogTrigger>
  );
}
