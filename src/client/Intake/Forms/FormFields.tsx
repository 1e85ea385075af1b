import { useState } from "react";
import styled from "styled-components";
import type { Schema } from "../../api/client";
import { Button } from "../../parts/Button";
import { ChoiceBox, TextBox } from "../../parts/Field";
import { small } from "../../parts/theme";
import { Backfill } from "./Backfill";
import type { Sheet, Words } from "./queries";

const List = styled.ol`
  list-style: none;
  padding: 0;
  border-top: 1px solid var(--hair);
  & > li {
    border-bottom: 1px solid var(--hair);
    padding: 8px 0 10px;
  }
  .top {
    display: flex;
    align-items: center;
    gap: 12px;
    min-height: 34px;
  }
  .name {
    flex: 1;
    font-weight: 600;
    font-size: 14px;
  }
  .ticks label {
    display: inline-flex;
    gap: 6px;
    align-items: center;
    font-size: 14px;
    margin-left: 12px;
  }
  .words {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 16px;
  }
  .wrong {
    color: var(--bad);
    font-size: 13px;
  }
  .dim {
    ${small}
  }
`;

type Props = {
  draft: Sheet;
  words: Words;
  choices: Schema["FormFieldChoice"][];
  problems: Schema["DraftProblem"][];
  onDraft: (draft: Sheet) => void;
  onWords: (more: Partial<Words>) => void;
  formKey: string;
  live: boolean;
};

/** The questions in their order; each is a field of the catalogue with words of its own. */
export function FormFields({ draft, words, choices, problems, onDraft, onWords, formKey, live }: Props) {
  const [added, setAdded] = useState<string | null>(null);
  const labels = new Map(choices.map((c) => [c.key, c]));
  const rest = choices.filter((c) => draft.fields.every((f) => f.key !== c.key));
  const change = (key: string, more: Partial<Schema["FormField"]>) => onDraft({ ...draft, fields: draft.fields.map((f) => (f.key === key ? { ...f, ...more } : f)) });
  const move = (at: number, by: number) => {
    const fields = [...draft.fields];
    const [field] = fields.splice(at, 1);
    fields.splice(at + by, 0, field!);
    onDraft({ ...draft, fields });
  };
  const whole = problems.filter((p) => p.path === "fields");
  return (
    <>
      {whole.map((p) => (
        <p key={p.sentence} role="alert" style={{ color: "var(--bad)", marginBottom: 6, fontSize: 14 }}>
          {p.sentence}
        </p>
      ))}
      <List>
        {draft.fields.map((f, i) => {
          const known = labels.get(f.key);
          const label = known?.label ?? f.key;
          const wrong = problems.find((p) => p.path === `fields.${f.key}`);
          return (
            <li key={f.key}>
              <div className="top">
                <span className="name">{label}</span>
                <span className="ticks">
                  {known?.type === "Text" && (
                    <label>
                      <input type="checkbox" checked={f.lines} onChange={(e) => change(f.key, { lines: e.target.checked })} />
                      several lines
                    </label>
                  )}
                  <label>
                    <input type="checkbox" checked={f.required} onChange={(e) => change(f.key, { required: e.target.checked })} />
                    required
                  </label>
                </span>
                <span>
                  <Button look="quiet" aria-label={`Move ${label} up`} isDisabled={i === 0} onPress={() => move(i, -1)}>
                    ↑
                  </Button>
                  <Button look="quiet" aria-label={`Move ${label} down`} isDisabled={i === draft.fields.length - 1} onPress={() => move(i, 1)}>
                    ↓
                  </Button>
                  <Button look="quiet" aria-label={`Leave out ${label}`} onPress={() => onDraft({ ...draft, fields: draft.fields.filter((x) => x.key !== f.key) })}>
                    Leave out
                  </Button>
                </span>
              </div>
              <div className="words">
                <TextBox aria-label={`Question for ${label}`} label="" placeholder={draft.text.fields[f.key] || label} value={words.fields[f.key] ?? ""} onChange={(v) => onWords({ fields: { ...words.fields, [f.key]: v } })} />
                <TextBox aria-label={`Line under ${label}`} label="" placeholder={draft.text.hints[f.key] || "a line under it, if need be"} value={words.hints[f.key] ?? ""} onChange={(v) => onWords({ hints: { ...words.hints, [f.key]: v } })} />
              </div>
              {wrong && <p className="wrong">{wrong.sentence}</p>}
              {live && <Backfill formKey={formKey} field={f.key} fresh={added === f.key} />}
            </li>
          );
        })}
      </List>
      <div style={{ width: 260, marginTop: 12 }}>
        <ChoiceBox
          label="Ask for one more"
          value={null}
          options={rest.map((c) => ({ key: c.key, label: c.label }))}
          onChange={(key) => {
            setAdded(key);
            onDraft({ ...draft, fields: [...draft.fields, { key, required: false, lines: false }] });
          }}
        />
      </div>
    </>
  );
}
