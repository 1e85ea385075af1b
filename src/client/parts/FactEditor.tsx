import { useRef, useState } from "react";
import styled from "styled-components";
import { ApiError, type Schema } from "../api/client";
import { ChoiceBox } from "./Field";
import { Wrong } from "./Words";

const Edit = styled.input`
  width: 100%;
  border: 1px solid var(--slate);
  border-radius: 3px;
  background: var(--paper);
  padding: 2px 6px;
`;

export type Fact = Schema["FactView"];

/** Writes one value; what was wrong with it is thrown. The fact is as it was when writing began. */
export type SaveFact = (fact: Fact, value: string) => Promise<unknown>;

/** Writes one fact in place: Enter or leaving the box saves it, Escape leaves it as it was. */
export function FactEditor({ fact, onSave, onDone }: { fact: Fact; onSave: SaveFact; onDone: () => void }) {
  // What stood there when writing began: somebody may change it meanwhile.
  const [began] = useState(fact);
  const [text, setText] = useState(fact.stored ?? "");
  const [error, setError] = useState<string>();
  const [busy, setBusy] = useState(false);
  const left = useRef(false);

  const save = async (value: string) => {
    if (left.current) return;
    if (value.trim() === (began.stored ?? "")) return onDone();
    left.current = true;
    setBusy(true);
    try {
      await onSave(began, value);
      onDone();
    } catch (e) {
      left.current = false;
      if (e instanceof ApiError && e.field) setError(e.message);
      else onDone();
    } finally {
      setBusy(false);
    }
  };

  if (fact.choices?.length) return <ChoiceBox hideLabel label={fact.label} value={fact.stored ?? null} options={fact.choices} onChange={(key) => void save(key)} />;
  return (
    <>
      <Edit
        autoFocus
        aria-label={fact.label}
        aria-invalid={!!error}
        aria-describedby={error ? `${fact.key}-error` : undefined}
        value={text}
        disabled={busy}
        onChange={(e) => setText(e.target.value)}
        onBlur={() => !error && void save(text)}
        onKeyDown={(e) => {
          if (e.key === "Enter") {
            // What is asked back must not be answered by the same press.
            e.preventDefault();
            void save(text);
          }
          if (e.key === "Escape") {
            left.current = true;
            onDone();
          }
        }}
      />
      {error && (
        <Wrong as="div" id={`${fact.key}-error`}>
          {error}
        </Wrong>
      )}
    </>
  );
}
