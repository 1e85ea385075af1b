import { useRef, useState } from "react";
import styled from "styled-components";
import { api, must, TroubleError } from "../api/client";
import { ChoiceBox } from "../parts/Field";
import { tell, tellTrouble } from "../parts/Toast";
import { small } from "../parts/theme";
import { useRefresh } from "../Setup/session";
import { leadActs, useLeadAct, type Sheet } from "./queries";

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

type Fact = Sheet["facts"][number];
type Props = { lead: Sheet; mayWrite: boolean; ask: number };

/** The facts, each changed in place, with where it is from when that is not the lead's own source; what is blank is offered below. */
export function Facts({ lead, mayWrite, ask }: Props) {
  const [editing, setEditing] = useState<string>();
  const question = lead.score.unknown[0]?.field;
  const [answered, setAnswered] = useState(ask);
  if (ask !== answered) {
    setAnswered(ask);
    if (mayWrite) setEditing(question);
  }
  const shown = lead.facts.filter((f) => f.value || f.key === editing);
  const blank = lead.facts.filter((f) => !f.value && f.key !== editing);
  return (
    <section aria-label="Facts" style={{ marginBottom: 16 }}>
      <List>
        {shown.map((f) => (
          <div key={f.key}>
            <dt>{f.label}</dt>
            <dd>
              {editing === f.key ? (
                <FactEditor lead={lead} fact={f} onDone={() => setEditing(undefined)} />
              ) : (
                <Value disabled={!mayWrite} title={f.from ? `from ${f.from}` : undefined} onClick={() => setEditing(f.key)} aria-label={`${f.label}: ${f.value}${mayWrite ? ", change" : ""}`}>
                  {f.value}
                  {f.from && f.from !== lead.sourceName && <i>{f.from}</i>}
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
          {mayWrite && (
            <>
              {" · "}
              <LookUp lead={lead} />
            </>
          )}
        </Blank>
      )}
    </section>
  );
}

/** Asks the company directory for what is blank. */
function LookUp({ lead }: { lead: Sheet }) {
  const refresh = useRefresh();
  const look = async () => {
    try {
      const { fields } = await must(api.POST("/api/leads/{id}/look-up", { params: { path: { id: lead.id } } }));
      tell(fields.length ? `Filled from the company directory: ${fields.join(", ").toLowerCase()}.` : "The company directory knows nothing more.");
      await refresh();
    } catch (e) {
      tellTrouble(e);
    }
  };
  return (
    <button type="button" onClick={() => void look()}>
      look the company up
    </button>
  );
}

function FactEditor({ lead, fact, onDone }: { lead: Sheet; fact: Fact; onDone: () => void }) {
  const act = useLeadAct(lead.id);
  const [text, setText] = useState(fact.stored ?? "");
  const [error, setError] = useState<string>();
  const left = useRef(false);
  const before = fact.stored ?? "";

  const save = (value: string) => {
    if (left.current) return;
    if (value.trim() === (fact.stored ?? "")) return onDone();
    left.current = true;
    act.mutate(() => leadActs.edit(lead, { [fact.key]: value }), {
      onSuccess: (now) => {
        tell(`${fact.label} is now ${now.facts.find((f) => f.key === fact.key)?.value ?? "blank"}.`, () => act.mutate(() => leadActs.edit(now, { [fact.key]: before })));
        onDone();
      },
      onError: (e) => {
        left.current = false;
        if (e instanceof TroubleError && e.field) setError(e.message);
        else onDone();
      },
    });
  };

  if (fact.choices?.length) return <ChoiceBox hideLabel label={fact.label} value={fact.stored ?? null} options={fact.choices} onChange={save} />;
  return (
    <>
      <Edit
        autoFocus
        aria-label={fact.label}
        aria-invalid={!!error}
        aria-describedby={error ? `${fact.key}-error` : undefined}
        value={text}
        disabled={act.isPending}
        onChange={(e) => setText(e.target.value)}
        onBlur={() => !error && save(text)}
        onKeyDown={(e) => {
          if (e.key === "Enter") save(text);
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
