import styled from "styled-components";
import type { Schema } from "../api/client";
import { AddCondition, ConditionText } from "../Conditions/ConditionText";
import { always, type Condition, type Field } from "../Conditions/conditions";
import { Button } from "../parts/Button";
import { ChoiceBox, TextBox } from "../parts/Field";
import { points } from "../parts/format";
import { small } from "../parts/theme";
import { fieldOf, keyFor, moved, put, said, without, type Criterion, type Finding, type Line, type Model } from "./model";
import { NumberBox } from "../common/NumberBox";
import { Said } from "../parts/Said";

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

/** One criterion: its lines in order, the first that holds counts. */
export function CriterionEditor({ model, at, words, findings, worth, fields, onChange, onGone }: Props) {
  const criterion = model.fit[at];
  if (!criterion) return null;
  const set = (next: Criterion) => onChange?.({ ...model, fit: put(model.fit, at, next) });
  const path = `fit/${at}`;
  const add = (condition: Condition) => {
    const field = fieldOf(condition) ?? "";
    const label = fields.find((f) => f.key === field)?.label ?? field;
    const fresh = criterion.field === "";
    set({
      ...criterion,
      field: fresh ? field : criterion.field,
      label: fresh && criterion.label === "New criterion" ? label : criterion.label,
      key: fresh ? keyFor(label, model.fit.filter((_, i) => i !== at).map((c) => c.key)) : criterion.key,
      lines: [...criterion.lines, { when: condition, points: 10, words: lineWords(condition, fields) } as Line],
    });
  };
  return (
    <>
      {onChange ? (
        <div style={{ display: "grid", gap: 8 }}>
          <TextBox label="Name" value={criterion.label} onChange={(label) => set({ ...criterion, label })} />
          {model.groups.length > 0 && (
            <ChoiceBox
              label="Counts together with"
              value={criterion.group || "-"}
              options={[{ key: "-", label: "nothing else" }, ...model.groups.map((g) => ({ key: g.key, label: `${g.label}, ${g.atLeast} to ${g.atMost}` }))]}
              onChange={(key) => set({ ...criterion, group: key === "-" ? "" : key })}
            />
          )}
        </div>
      ) : null}
      <Said findings={said(findings, path)} />
      <Lines>
        {criterion.lines.map((line, i) => {
          const told = worth?.lines[i];
          return (
            <li key={i}>
              {onChange ? (
                <Editing
                  line={line}
                  fields={fields}
                  onChange={(next) => set({ ...criterion, lines: next ? put(criterion.lines, i, next) : without(criterion.lines, i) })}
                  onUp={i > 0 ? () => set({ ...criterion, lines: moved(criterion.lines, i, i - 1) }) : undefined}
                />
              ) : (
                <div className="row">
                  <span>
                    {line.words}
                    <br />
                    <small>{words.find((w) => w.path === `${path}/lines/${i}`)?.words}</small>
                  </span>
                  <b>{points(line.points)}</b>
                </div>
              )}
              {told && told.share.count > 0 && (
                <small>
                  won {told.share.won} of {told.share.count}, {told.lift.toFixed(1)} times the usual
                </small>
              )}
              <Said findings={said(findings, `${path}/lines/${i}`)} />
            </li>
          );
        })}
      </Lines>
      {onChange && (
        <p style={{ display: "flex", justifyContent: "space-between" }}>
          <AddCondition fields={fields} onAdd={add} words="add a line" />
          <Button
            look="quiet"
            onPress={() => {
              onGone();
              onChange({ ...model, fit: without(model.fit, at) });
            }}
          >
            Remove this criterion
          </Button>
        </p>
      )}
      <p style={{ fontSize: 13, color: "var(--soft)", marginTop: 10 }}>The first line that holds counts. While it is not known, none does, and the fit is shown as a range.</p>
    </>
  );
}

const lineWords = (condition: Condition, fields: Field[]) => {
  if (!("field" in condition)) return "New line";
  const field = fields.find((f) => f.key === condition.field);
  const shown = condition.values.map((v) => field?.choices.find((c) => c.key === v)?.label ?? v);
  const name = field?.label ?? condition.field;
  if (condition.is === "in") return shown.join(" or ").slice(0, 120);
  if (condition.is === "between") return `${name} ${shown[0]} to ${shown[1]}`;
  if (condition.is === "at-least") return `${name} ${shown[0]} or more`;
  if (condition.is === "at-most") return `${name} ${shown[0]} or less`;
  return `${name}: ${shown.join(" or ")}`.slice(0, 120);
};

type EditingProps = { line: Line; fields: Field[]; onChange: (next: Line | null) => void; onUp?: () => void };

function Editing({ line, fields, onChange, onUp }: EditingProps) {
  const when = line.when as Condition;
  return (
    <>
      <div className="row">
        <TextBox aria-label="What people read" label="" value={line.words} onChange={(words) => onChange({ ...line, words })} />
        <NumberBox label={`Points for ${line.words}`} value={line.points} least={-100} most={100} whole onChange={(value) => onChange({ ...line, points: value })} />
      </div>
      <small>
        when <ConditionText where={when} fields={fields} path={[]} at={when} onChange={(next) => onChange({ ...line, when: (next ?? always) as Line["when"] })} />
      </small>
      <div className="acts">
        {onUp && (
          <Button look="quiet" onPress={onUp} style={{ minHeight: 24, padding: 0, fontSize: 13 }}>
            Up
          </Button>
        )}
        <Button look="quiet" onPress={() => onChange(null)} style={{ minHeight: 24, padding: 0, fontSize: 13 }}>
          Leave out
        </Button>
      </div>
    </>
  );
}
