import styled from "styled-components";
import type { Field } from "../Conditions/conditions";
import { left, whole } from "../parts/format";
import { Said } from "../parts/Said";
import { RuleCell } from "./RuleCell";
import type { Finding, Rule } from "./sheet";
import { useRuleFields } from "./useRuleFields";

/** A row of the sheet is chosen by its name. */
export const Name = styled.button`
  border: 0;
  background: none;
  padding: 0;
  font: inherit;
  font-weight: 610;
  text-align: left;
  cursor: pointer;
  min-height: 24px;
  color: inherit;
  &:hover {
    text-decoration: underline;
    text-underline-offset: 3px;
  }
`;

const Cell = styled.td`
  max-width: 240px;
`;

type RowProps = {
  rule: Rule;
  at: number;
  columns: readonly string[];
  words?: { cells: readonly string[]; to: string };
  findings: readonly Finding[];
  hits: number;
  minutes: number;
  moments: string[];
  fields: Field[];
  chosen: boolean;
  onChoose: () => void;
  onChange?: (rule: Rule) => void;
};

/** A rule as a row: its name, a cell for each column, where it sends leads, and below it what is wrong with it. */
export function RuleRow({ rule, at, columns, words, findings, hits, minutes, moments, fields: all, chosen, onChoose, onChange }: RowProps) {
  const fields = useRuleFields(all, rule);
  // What is only worth knowing is told where the rule is looked at; what is wrong stands on its row.
  const wrong = findings.filter((f) => f.blocks || f.problem.code !== "rules-overlap");
  return (
    <>
      <tr data-chosen={chosen || undefined} className={wrong.length > 0 ? "with-said" : undefined}>
        <td className="n">{at + 1}</td>
        <td>
          <Name type="button" aria-pressed={chosen} onClick={onChoose}>
            {rule.name || "no name"}
          </Name>
          {moments.length > 0 && (
            <>
              <br />
              <small>{moments.join(", ")}</small>
            </>
          )}
        </td>
        {columns.map((column, i) => (
          <Cell key={column} className={words?.cells[i] ? undefined : "open"}>
            <RuleCell rule={rule} column={column} words={words?.cells[i] ?? ""} fields={fields} onChoose={onChoose} onChange={onChange} />
          </Cell>
        ))}
        <td>{words?.to}</td>
        <td>{left(minutes)}</td>
        <td className="n">{whole(hits)}</td>
      </tr>
      {wrong.length > 0 && (
        <tr className="said" data-chosen={chosen || undefined}>
          <td />
          <td colSpan={columns.length + 4}>
            <Said findings={wrong} />
          </td>
        </tr>
      )}
    </>
  );
}
