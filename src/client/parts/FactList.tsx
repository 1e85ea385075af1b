import { useRef, useState, type ReactNode } from "react";
import styled from "styled-components";
import { ApiError, type Schema } from "../api/client";
import { ChoiceBox } from "./Field";
import { small } from "./theme";

const List = styled.dl`
  margin: 0;
  > div {
    display: grid;
    grid-template-columns: 118px minmax(0, 1fr);
    gap: 10px;
    align-items: baseline;
    min-height: 30px;
  }
  dt {
    ${small}
  }
  dd {
    margin: 0;
    min-width: 0;
  }
`;

const Value = styled.button`
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  gap: 14px;
  border: 0;
  background: none;
  padding: 3px 0;
  text-align: left;
  width: 100%;
  overflow-wrap: anywhere;
  cursor: text;
  &:disabled {
    cursor: default;
    color: inherit;
  }
  &:not(:disabled):hover {
    box-shadow: inset 0 -1px 0 var(--slate);
  }
  i {
    ${small}
    font-style: normal;
    font-size: 12px;
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
    max-width: 45%;
    flex: none;
  }
`;

const Blank = styled.p`
  ${small}
  margin-top: 6px;
  button {
    border: 0;
    background: none;
    padding: 0;
    color: var(--slate);
    cursor: pointer;
    text-decoration: underline;
    text-decoration-thickness: 1px;
    text-underline-offset: 3px;
  }
`;

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

type Props = { facts: Fact[]; mayWrite: boolean; onSave: SaveFact; label?: string; usual?: string; asked?: string; ask?: number; more?: ReactNode };

/**
 * Facts, each changed in place, with where it is from when that is not the `usual` source; what is blank is offered below, with `more` behind it.
 * When `ask` counts up, the fact `asked` is opened for writing.
 */
export function FactList({ facts, mayWrite, onSave, label = "Facts", usual, asked, ask = 0, more }: Props) {
  const [editing, setEditing] = useState<string>();
  const [answered, setAnswered] = useState(ask);
  if (ask !== answered) {
    setAnswered(ask);
    if (mayWrite) setEditing(asked);
  }
  const shown = facts.filter((f) => f.value || f.key === editing);
  const blank = facts.filter((f) => !f.value && !f.hidden && f.key !== editing);
  const hidden = facts.filter((f) => f.hidden);
  return (
    <section aria-label={label} style={{ marginBottom: 16 }}>
      <List>
        {shown.map((f) => (
          <div key={f.key}>
            <dt>{f.label}</dt>
            <dd>
              {editing === f.key ? (
                <FactEditor fact={f} onSave={onSave} onDone={() => setEditing(undefined)} />
              ) : (
                <Value disabled={!mayWrite} title={f.from ? `from ${f.from}` : undefined} onClick={() => setEditing(f.key)} aria-label={`${f.label}: ${f.value}${mayWrite ? ", change" : ""}`}>
                  {f.value}
                  {f.from && f.from !== usual && <i>{f.from}</i>}
                </Value>
              )}
            </dd>
          </div>
        ))}
      </List>
      {blank.length > 0 && (
        <Blank>
          Not known:{" "}
          {blank.map((f, i) => (
            <span key={f.key}>
              {mayWrite ? (
                <button type="button" onClick={() => setEditing(f.key)} aria-label={`${f.label} is not known, fill in`}>
                  {f.label.toLowerCase()}
                </button>
              ) : (
                f.label.toLowerCase()
              )}
              {i < blank.length - 1 ? ", " : ""}
            </span>
          ))}
          {mayWrite && more}
        </Blank>
      )}
      {hidden.length > 0 && <Blank>Shown to the owner only: {hidden.map((f) => f.label.toLowerCase()).join(", ")}</Blank>}
    </section>
  );
}

function FactEditor({ fact, onSave, onDone }: { fact: Fact; onSave: SaveFact; onDone: () => void }) {
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
        <div role="alert" id={`${fact.key}-error`} style={{ color: "var(--bad)", fontSize: 13 }}>
          {error}
        </div>
      )}
    </>
  );
}
