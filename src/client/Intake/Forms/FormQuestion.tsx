import styled from "styled-components";
import type { Schema } from "../../api/client";
import { Button } from "../../parts/Button";
import { TextBox } from "../../parts/Field";
import { Tick } from "../../parts/Ticks";
import { Unbroken, Wrong } from "../../parts/Words";
import { Backfill } from "./Backfill";
import type { Sheet, Words } from "./queries";

export const Questions = styled.ol`
  list-style: none;
  padding: 0;
  border-top: 1px solid var(--hair);
  & > li {
    border-bottom: 1px solid var(--hair);
    padding: 8px 0 10px;
  }
  .top {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 2px 12px;
    min-height: 34px;
  }
  .name {
    flex: 1;
    font-weight: 600;
    font-size: 14px;
  }
  .words {
    display: grid;
    grid-template-columns: repeat(auto-fit, minmax(180px, 1fr));
    gap: 4px 16px;
  }
`;

type Field = Schema["FormField"];

type Props = {
  field: Field;
  known?: Schema["FormFieldChoice"];
  draft: Sheet;
  words: Words;
  wrong?: string;
  isFirst: boolean;
  isLast: boolean;
  onWords: (more: Partial<Words>) => void;
  onChange: (more: Partial<Field>) => void;
  onMove: (by: number) => void;
  onDrop: () => void;
  /** Where earlier posts may have answered it unasked. */
  backfill?: { formKey: string; fresh: boolean };
};

/** One question of a form: its words, whether it must be answered, and its place. */
export function FormQuestion({ field: f, known, draft, words, wrong, isFirst, isLast, onWords, onChange, onMove, onDrop, backfill }: Props) {
  const label = known?.label ?? f.key;
  return (
    <li>
      <div className="top">
        <span className="name">{label}</span>
        {known?.type === "Text" && (
          <Tick value={f.lines} onChange={(lines) => onChange({ lines })}>
            several lines
          </Tick>
        )}
        <Tick value={f.required} onChange={(required) => onChange({ required })}>
          required
        </Tick>
        <Unbroken>
          <Button look="quiet" aria-label={`Move ${label} up`} isDisabled={isFirst} onPress={() => onMove(-1)}>
            ↑
          </Button>
          <Button look="quiet" aria-label={`Move ${label} down`} isDisabled={isLast} onPress={() => onMove(1)}>
            ↓
          </Button>
          <Button look="quiet" aria-label={`Leave out ${label}`} onPress={onDrop}>
            Leave out
          </Button>
        </Unbroken>
      </div>
      <div className="words">
        <TextBox aria-label={`Question for ${label}`} label="" placeholder={draft.text.fields[f.key] || label} value={words.fields[f.key] ?? ""} onChange={(v) => onWords({ fields: { ...words.fields, [f.key]: v } })} />
        <TextBox aria-label={`Line under ${label}`} label="" placeholder={draft.text.hints[f.key] || "a line under it, if need be"} value={words.hints[f.key] ?? ""} onChange={(v) => onWords({ hints: { ...words.hints, [f.key]: v } })} />
      </div>
      {wrong && <Wrong>{wrong}</Wrong>}
      {backfill && <Backfill field={f.key} {...backfill} />}
    </li>
  );
}
