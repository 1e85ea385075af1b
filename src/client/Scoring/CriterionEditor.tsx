import styled from "styled-components";
import type { Schema } from "../api/client";
import { AddCondition } from "../Conditions/ConditionText";
import type { Condition, Field } from "../Conditions/conditions";
import { Button } from "../parts/Button";
import { ChoiceBox, TextBox } from "../parts/Field";
import { Row, Stack } from "../parts/Layout";
import { Said } from "../parts/Said";
import { small } from "../parts/theme";
import { Hint } from "../parts/Words";
import { CriterionLine } from "./CriterionLine";
import { lineWords } from "./lineWords";
import { fieldOf, keyFor, moved, put, said, without, type Criterion, type Finding, type Line, type Model } from "./model";

const Lines = styled.ol`
  list-style: none;
  padding: 0;
  margin: 10px 0 14px;
  font-size: 14px;
  li {
    padding: 8px 0;
    border-bottom: 1px solid var(--hair);
  }
  .row {
    display: grid;
    grid-template-columns: 1fr 62px;
    gap: 10px;
    align-items: start;
  }
  .row > b {
    text-align: right;
  }
  small {
    ${small}
  }
  .acts {
    display: flex;
    gap: 8px;
    margin-top: 2px;
  }
`;

type Props = { model: Model; at: number; words: readonly Schema["LineWords"][]; findings: readonly Finding[]; worth?: Schema["CriterionWorth"]; fields: Field[]; onChange?: (model: Model) => void; onGone: () => void };

// A first condition names the criterion and says its field.
function withLine(criterion: Criterion, condition: Condition, fields: Field[], taken: readonly string[]): Criterion {
  const field = fieldOf(condition) ?? "";
  const label = fields.find((f) => f.key === field)?.label ?? field;
  const fresh = criterion.field === "";
  return {
    ...criterion,
    field: fresh ? field : criterion.field,
    label: fresh && criterion.label === "New criterion" ? label : criterion.label,
    key: fresh ? keyFor(label, taken) : criterion.key,
    lines: [...criterion.lines, { when: condition, points: 10, words: lineWords(condition, fields) } as Line],
  };
}

/** One criterion: its lines in order, the first that holds counts. */
export function CriterionEditor({ model, at, words, findings, worth, fields, onChange, onGone }: Props) {
  const criterion = model.fit[at];
  if (!criterion) return null;
  const set = onChange && ((next: Criterion) => onChange({ ...model, fit: put(model.fit, at, next) }));
  const path = `fit/${at}`;
  const lines = (next: Line[]) => set?.({ ...criterion, lines: next });
  const remove = () => {
    onGone();
    onChange?.({ ...model, fit: without(model.fit, at) });
  };
  return (
    <>
      {set && <Naming model={model} criterion={criterion} onSet={set} />}
      <Said findings={said(findings, path)} />
      <Lines>
        {criterion.lines.map((line, i) => (
          <CriterionLine
            key={i}
            line={line}
            words={words.find((w) => w.path === `${path}/lines/${i}`)?.words}
            findings={said(findings, `${path}/lines/${i}`)}
            told={worth?.lines[i]}
            fields={fields}
            onChange={set && ((next) => lines(next ? put(criterion.lines, i, next) : without(criterion.lines, i)))}
            onUp={i > 0 ? () => lines(moved(criterion.lines, i, i - 1)) : undefined}
          />
        ))}
      </Lines>
      {set && (
        <Row $apart>
          <AddCondition fields={fields} onAdd={(condition) => set(withLine(criterion, condition, fields, model.fit.filter((_, i) => i !== at).map((c) => c.key)))} words="add a line" />
          <Button look="quiet" onPress={remove}>
            Remove this criterion
          </Button>
        </Row>
      )}
      <Hint $above={3}>The first line that holds counts. While it is not known, none does, and the fit is shown as a range.</Hint>
    </>
  );
}

const alone = "-";

function Naming({ model, criterion, onSet }: { model: Model; criterion: Criterion; onSet: (next: Criterion) => void }) {
  const groups = model.groups.map((g) => ({ key: g.key, label: `${g.label}, ${g.atLeast} to ${g.atMost}` }));
  return (
    <Stack $gap={2}>
      <TextBox label="Name" value={criterion.label} onChange={(label) => onSet({ ...criterion, label })} />
      {groups.length > 0 && <ChoiceBox label="Counts together with" value={criterion.group || alone} options={[{ key: alone, label: "nothing else" }, ...groups]} onChange={(key) => onSet({ ...criterion, group: key === alone ? "" : key })} />}
    </Stack>
  );
}
