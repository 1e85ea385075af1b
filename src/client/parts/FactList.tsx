import { useState, type ReactNode } from "react";
import styled from "styled-components";
import { FactEditor, type Fact, type SaveFact } from "./FactEditor";
import { small } from "./theme";

const Facts = styled.section`
  margin-bottom: 16px;
`;

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
    <Facts aria-label={label}>
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
    </Facts>
  );
}
