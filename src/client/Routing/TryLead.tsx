import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import styled from "styled-components";
import { api, must, type ApiError } from "../api/client";
import { fieldsOf, type Names, type Sheet } from "./sheet";
import type { Condition } from "../Conditions/conditions";
import { useFields } from "../common/fields";
import { Button } from "../parts/Button";
import { ChoiceBox, TextBox } from "../parts/Field";
import { exact, left } from "../parts/format";
import { Trace } from "../parts/Trace";
import { useSession } from "../common/session";

const Ask = styled.form`
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(170px, 1fr));
  gap: 10px 14px;
  align-items: end;
  margin: 8px 0 14px;
`;

/** One made-up lead through the sheet: who would get it, and why. */
export function TryLead({ sheet, names }: { sheet: Sheet; names: Names }) {
  const fields = useFields().data ?? [];
  const { timeZone } = useSession();
  const [facts, setFacts] = useState<Record<string, string>>({});
  const [moment, setMoment] = useState("arrival");
  const asked = [...new Set([...sheet.columns, ...sheet.rules.flatMap((r) => fieldsOf(r.when as Condition)), "email", "website"])].map((key) => fields.find((f) => f.key === key)).filter((f) => f !== undefined);
  const tried = useMutation({ mutationFn: () => must(api.POST("/api/routing/try", { body: { sheet, facts: Object.fromEntries(Object.entries(facts).filter(([, v]) => v.trim())), moment } })) });
  const trouble = tried.error as (ApiError & { field?: string }) | null;
  const set = (key: string, value: string) => setFacts({ ...facts, [key]: value });
  return (
    <section aria-label="One lead">
      <h2>One lead</h2>
      <Ask
        onSubmit={(e) => {
          e.preventDefault();
          tried.mutate();
        }}
      >
        {asked.map((f) =>
          f.choices.length > 0 && f.choices.length <= 60 ? (
            <ChoiceBox key={f.key} label={f.label} value={facts[f.key] ?? "-"} options={[{ key: "-", label: "not known" }, ...f.choices]} onChange={(v) => set(f.key, v === "-" ? "" : v)} />
          ) : (
            <TextBox key={f.key} label={f.label} value={facts[f.key] ?? ""} onChange={(v) => set(f.key, v)} error={trouble?.field === f.key ? trouble.message : undefined} />
          ),
        )}
        <ChoiceBox label="Moment" value={moment} options={names.moments.map((m) => ({ key: m.key, label: m.name }))} onChange={setMoment} />
        <Button look="main" type="submit" isDisabled={tried.isPending}>
          Who gets it
        </Button>
      </Ask>
      {trouble && !trouble.field && <p style={{ color: "var(--bad)" }}>{trouble.message}</p>}
      {tried.data && (
        <div role="status">
          <h3>{tried.data.owner ? `${tried.data.owner}${tried.data.answerWithinMinutes ? `, to answer in ${left(tried.data.answerWithinMinutes)}` : ""}${tried.data.due ? `, by ${exact(tried.data.due, timeZone)}` : ""}` : "It waits on the Desk"}</h3>
          <Trace>
            {tried.data.verdicts
              .filter((v) => v.failed)
              .map((v) => (
                <li key={v.rule}>
                  Rule {v.rule + 1}, {v.name}: {v.failed}
                </li>
              ))}
            {tried.data.lines.map((l, i) => (
              <li key={i} data-hit={l.hit || undefined}>
                {l.words}
              </li>
            ))}
          </Trace>
        </div>
      )}
    </section>
  );
}
