import { useState } from "react";
import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { useAct } from "../common/acting";
import { useFields } from "../common/fields";
import { useSession } from "../common/session";
import type { Condition, Field } from "../Conditions/conditions";
import { Button } from "../parts/Button";
import { ChoiceBox, TextBox } from "../parts/Field";
import { exact, left } from "../parts/format";
import { Trace } from "../parts/Trace";
import { Wrong } from "../parts/Words";
import { fieldsOf, type Names, type Sheet } from "./sheet";

const Ask = styled.form`
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(170px, 1fr));
  gap: 10px 14px;
  align-items: end;
  margin: 8px 0 14px;
`;

// A longer list is typed.
const longest = 60;
const unknown = "-";

type Tried = Schema["TryView"];

/** One made-up lead through the sheet: who would get it, and why. */
export function TryLead({ sheet, names }: { sheet: Sheet; names: Names }) {
  const fields = useFields().data ?? [];
  const [facts, setFacts] = useState<Record<string, string>>({});
  const [moment, setMoment] = useState("arrival");
  const [tried, setTried] = useState<Tried>();
  const act = useAct("here");
  const asked = [...new Set([...sheet.columns, ...sheet.rules.flatMap((r) => fieldsOf(r.when as Condition)), "email", "website"])].map((key) => fields.find((f) => f.key === key)).filter((f) => f !== undefined);
  const known = Object.fromEntries(Object.entries(facts).filter(([, v]) => v.trim()));
  const ask = () => void act.run(() => must(api.POST("/api/routing/try", { body: { sheet, facts: known, moment } })), { changes: [], then: setTried });
  return (
    <section aria-label="One lead">
      <h2>One lead</h2>
      <Ask
        onSubmit={(e) => {
          e.preventDefault();
          ask();
        }}
      >
        {asked.map((f) => (
          <Fact key={f.key} field={f} value={facts[f.key] ?? ""} onChange={(value) => setFacts({ ...facts, [f.key]: value })} error={act.said(f.key)} />
        ))}
        <ChoiceBox label="Moment" value={moment} options={names.moments.map((m) => ({ key: m.key, label: m.name }))} onChange={setMoment} />
        <Button look="main" type="submit" isPending={act.busy}>
          Who gets it
        </Button>
      </Ask>
      {act.whole(...asked.map((f) => f.key)) && <Wrong>{act.whole(...asked.map((f) => f.key))}</Wrong>}
      {tried && <Answer tried={tried} />}
    </section>
  );
}

function Fact({ field, value, onChange, error }: { field: Field; value: string; onChange: (value: string) => void; error?: string }) {
  if (field.choices.length > 0 && field.choices.length <= longest) return <ChoiceBox label={field.label} value={value || unknown} options={[{ key: unknown, label: "not known" }, ...field.choices]} onChange={(v) => onChange(v === unknown ? "" : v)} error={error} />;
  return <TextBox label={field.label} value={value} onChange={onChange} error={error} />;
}

function Answer({ tried }: { tried: Tried }) {
  const { timeZone } = useSession();
  const { owner, answerWithinMinutes, due } = tried;
  return (
    <div role="status">
      <h3>{owner ? `${owner}${answerWithinMinutes ? `, to answer in ${left(answerWithinMinutes)}` : ""}${due ? `, by ${exact(due, timeZone)}` : ""}` : "It waits on the Desk"}</h3>
      <Trace>
        {tried.verdicts
          .filter((v) => v.failed)
          .map((v) => (
            <li key={v.rule}>
              Rule {v.rule + 1}, {v.name}: {v.failed}
            </li>
          ))}
        {tried.lines.map((l, i) => (
          <li key={i} data-hit={l.hit || undefined}>
            {l.words}
          </li>
        ))}
      </Trace>
    </div>
  );
}
