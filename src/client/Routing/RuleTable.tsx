import { useState } from "react";
import { Dialog, DialogTrigger } from "react-aria-components";
import styled from "styled-components";
import { ConditionBox } from "../Conditions/ConditionBox";
import { Part } from "../Conditions/ConditionText";
import { isLeaf, type Condition, type Field } from "../Conditions/conditions";
import { Table } from "../parts/Bench";
import { Button } from "../parts/Button";
import { Float } from "../parts/Field";
import { left, whole } from "../parts/format";
import { Said } from "../parts/Said";
import { small } from "../parts/theme";
import { useRuleFields } from "./useRuleFields";
import { cellOf, saidOf, withCell, type Chosen, type Finding, type Routing, type Rule, type Sheet } from "./sheet";

const Rows = styled(Table)`
  tbody tr[data-chosen] > td {
    background: var(--slate-wash);
  }
  tbody tr.said > td {
    border-top: 0;
    padding-top: 0;
  }
  tbody tr.with-said > td {
    border-bottom: 0;
  }
  td.open {
    color: var(--soft);
  }
  td.moves {
    white-space: nowrap;
    padding-left: 0;
  }
  small {
    ${small}
  }
`;

const Name = styled.button`
  border: 0;
  background: none;
  padding: 0;
  font: inherit;
  font-weight: 610;
  text-align: left;
  cursor: pointer;
  color: inherit;
  &:hover {
    text-decoration: underline;
    text-underline-offset: 3px;
  }
`;

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

type Props = {
  sheet: Sheet;
  words: readonly { cells: readonly string[]; to: string }[];
  findings: readonly Finding[];
  routing: Routing;
  fields: Field[];
  chosen: Chosen;
  holes: number | undefined;
  onChoose: (chosen: Chosen) => void;
  onChange?: (sheet: Sheet) => void;
};

/** The rule sheet: a row each rule, a column each field asked. A cell is changed where it stands. */
export function RuleTable({ sheet, words, findings, routing, fields, chosen, holes, onChoose, onChange }: Props) {
  const columns = sheet.columns;
  const guards = (sheet.guards ?? []).filter((g) => g.on);
  const set = (at: number, rule: Rule) => onChange?.({ ...sheet, rules: sheet.rules.map((r, i) => (i === at ? rule : r)) });
  return (
    <Rows>
      <thead>
        <tr>
          <th className="n">#</th>
          <th>Rule</th>
          {columns.map((c) => (
            <th key={c}>{fields.find((f) => f.key === c)?.label ?? c}</th>
          ))}
          <th>Goes to</th>
          <th>Answer in</th>
          <th className="n">Hits</th>
        </tr>
      </thead>
      <tbody>
        <tr data-chosen={chosen?.kind === "terms" || undefined}>
          <td className="n">first</td>
          <td colSpan={columns.length + 1}>
            <Name type="button" aria-pressed={chosen?.kind === "terms"} onClick={() => onChoose({ kind: "terms" })}>
              {guards.length === 0 ? "Nobody is asked before the rules" : "Who owns it already"}
            </Name>{" "}
            <small>{guards.map((g) => routing.names.guards.find((n) => n.key === g.kind)?.name.toLowerCase().replace("owner of the ", "") ?? g.kind).join(", ")}</small>
          </td>
          <td>that person</td>
          <td>{left(sheet.answerWithinMinutes)}</td>
          <td className="n">{whole(routing.guardHits)}</td>
        </tr>
        {sheet.rules.map((rule, at) => (
          <RuleRow
            key={rule.key}
            rule={rule}
            at={at}
            columns={columns}
            words={words[at]}
            findings={saidOf(findings, at)}
            hits={routing.hits[rule.key] ?? 0}
            minutes={rule.answerWithinMinutes ?? sheet.answerWithinMinutes}
            moments={(rule.moments ?? []).map((m) => routing.names.moments.find((n) => n.key === m)?.name.toLowerCase() ?? m)}
            fields={fields}
            chosen={chosen?.kind === "rule" && chosen.at === at}
            onChoose={() => onChoose({ kind: "rule", at })}
            onChange={onChange && ((next) => set(at, next))}
          />
        ))}
        <tr data-chosen={chosen?.kind === "holes" || undefined}>
          <td className="n">else</td>
          <td colSpan={columns.length + 1}>
            <Name type="button" aria-pressed={chosen?.kind === "holes"} onClick={() => onChoose({ kind: "holes" })}>
              No rule fits
            </Name>{" "}
            <small>{holes === undefined ? "" : holes === 0 ? "the rules take every lead" : holes === 1 ? "one hole" : `${holes} holes`}</small>
          </td>
          <td>waits on the Desk</td>
          <td />
          <td className="n">{whole(routing.noRule)}</td>
        </tr>
      </tbody>
    </Rows>
  );
}

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

function RuleRow({ rule, at, columns, words, findings, hits, minutes, moments, fields: all, chosen, onChoose, onChange }: RowProps) {
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
          <td key={column} className={words?.cells[i] ? undefined : "open"} style={{ maxWidth: 240 }}>
            <RuleCell rule={rule} column={column} words={words?.cells[i] ?? ""} fields={fields} onChoose={onChoose} onChange={onChange} />
          </td>
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

type CellProps = { rule: Rule; column: string; words: string; fields: Field[]; onChoose: () => void; onChange?: (rule: Rule) => void };

function RuleCell({ rule, column, words, fields, onChoose, onChange }: CellProps) {
  const [open, setOpen] = useState(false);
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
    <DialogTrigger isOpen={open} onOpenChange={setOpen}>
      <Cell data-open={words ? undefined : ""} aria-label={`${field.label} of ${rule.name}: ${shown}`}>
        {shown}
      </Cell>
      <Float placement="bottom start">
        <Dialog aria-label={`${field.label} of ${rule.name}`} style={{ outline: "none" }}>
          {({ close }) => (
            <ConditionBox
              fields={[field]}
              start={cell ?? undefined}
              onSet={(leaf) => onChange(withCell(rule, column, leaf as Condition))}
              onRemove={cell ? () => onChange(withCell(rule, column, null)) : undefined}
              close={close}
            />
          )}
        </Dialog>
      </Float>
    </DialogTrigger>
  );
}

/** Puts a rule at the end, open to every lead until it is told what it wants. */
export function AddRule({ sheet, onAdd }: { sheet: Sheet; onAdd: (sheet: Sheet) => void }) {
  const add = () => {
    const taken = sheet.rules.map((r) => r.key);
    let n = sheet.rules.length + 1;
    while (taken.includes(`rule-${n}`)) n++;
    onAdd({ ...sheet, rules: [...sheet.rules, { key: `rule-${n}`, name: "New rule", when: { all: [] }, to: { hold: "to be decided" }, moments: [], task: "", message: "", urgent: false } as Rule] });
  };
  return <Button onPress={add}>Add a rule</Button>;
}
