import styled from "styled-components";
import type { Field } from "../Conditions/conditions";
import { Table } from "../parts/Bench";
import { left, whole } from "../parts/format";
import { small } from "../parts/theme";
import { Name, RuleRow } from "./RuleRow";
import { saidOf, type Chosen, type Finding, type Routing, type Rule, type Sheet } from "./sheet";

const Scroll = styled.div`
  overflow-x: auto;
  position: relative;
`;

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
  const { columns } = sheet;
  const set = (at: number, rule: Rule) => onChange?.({ ...sheet, rules: sheet.rules.map((r, i) => (i === at ? rule : r)) });
  const momentName = (key: string) => routing.names.moments.find((n) => n.key === key)?.name.toLowerCase() ?? key;
  return (
    <Scroll>
      <Rows aria-label="Rule sheet">
        <thead>
          <tr>
            <th scope="col" className="n">
              #
            </th>
            <th scope="col">Rule</th>
            {columns.map((c) => (
              <th scope="col" key={c}>
                {fields.find((f) => f.key === c)?.label ?? c}
              </th>
            ))}
            <th scope="col">Goes to</th>
            <th scope="col">Answer in</th>
            <th scope="col" className="n">
              Hits
            </th>
          </tr>
        </thead>
        <tbody>
          <GuardRow sheet={sheet} routing={routing} isChosen={chosen?.kind === "terms"} onChoose={() => onChoose({ kind: "terms" })} />
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
              moments={(rule.moments ?? []).map(momentName)}
              fields={fields}
              chosen={chosen?.kind === "rule" && chosen.at === at}
              onChoose={() => onChoose({ kind: "rule", at })}
              onChange={onChange && ((next) => set(at, next))}
            />
          ))}
          <HoleRow span={columns.length + 1} holes={holes} hits={routing.noRule} isChosen={chosen?.kind === "holes"} onChoose={() => onChoose({ kind: "holes" })} />
        </tbody>
      </Rows>
    </Scroll>
  );
}

type EdgeProps = { isChosen: boolean; onChoose: () => void };

// Before the rules: an owner there is already.
function GuardRow({ sheet, routing, isChosen, onChoose }: EdgeProps & { sheet: Sheet; routing: Routing }) {
  const guards = (sheet.guards ?? []).filter((g) => g.on);
  const nameOf = (kind: string) => routing.names.guards.find((n) => n.key === kind)?.name.toLowerCase().replace("owner of the ", "") ?? kind;
  return (
    <tr data-chosen={isChosen || undefined}>
      <td className="n">first</td>
      <td colSpan={sheet.columns.length + 1}>
        <Name type="button" aria-pressed={isChosen} onClick={onChoose}>
          {guards.length === 0 ? "Nobody is asked before the rules" : "Who owns it already"}
        </Name>{" "}
        <small>{guards.map((g) => nameOf(g.kind)).join(", ")}</small>
      </td>
      <td>that person</td>
      <td>{left(sheet.answerWithinMinutes)}</td>
      <td className="n">{whole(routing.guardHits)}</td>
    </tr>
  );
}

// After them: what no rule takes.
function HoleRow({ span, holes, hits, isChosen, onChoose }: EdgeProps & { span: number; holes: number | undefined; hits: number }) {
  const words = holes === undefined ? "" : holes === 0 ? "the rules take every lead" : holes === 1 ? "one hole" : `${holes} holes`;
  return (
    <tr data-chosen={isChosen || undefined}>
      <td className="n">else</td>
      <td colSpan={span}>
        <Name type="button" aria-pressed={isChosen} onClick={onChoose}>
          No rule fits
        </Name>{" "}
        <small>{words}</small>
      </td>
      <td>waits on the Desk</td>
      <td />
      <td className="n">{whole(hits)}</td>
    </tr>
  );
}
