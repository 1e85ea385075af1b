import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import styled from "styled-components";
import { api, must } from "../api/client";
import { useFields } from "../Conditions/useFields";
import { ChoiceBox, TextBox } from "../parts/Field";

const Box = styled.div`
  border-left: 3px solid var(--lamp);
  padding: 2px 0 2px 12px;
  margin-bottom: 14px;
  font-size: 14px;
  p {
    margin-bottom: 6px;
  }
`;

type Props = { facts: Record<string, string>; onAnswer: (field: string, value: string) => void; asked: readonly string[] };

/** While one talks: how well they fit by what is known, and the one fact that would tell most. */
export function AskNext({ facts, onAnswer, asked }: Props) {
  const fields = useFields().data ?? [];
  const [still, setStill] = useState(facts);
  useEffect(() => {
    const timer = setTimeout(() => setStill(facts), 300);
    return () => clearTimeout(timer);
  }, [facts]);
  const fit = useQuery({ queryKey: ["fit-so-far", still], queryFn: () => must(api.POST("/api/scoring/fit", { body: { facts: still } })), placeholderData: keepPreviousData, gcTime: 10_000 });
  if (!fit.data || Object.values(facts).every((f) => !f)) return null;
  const { ask, low, high } = fit.data;
  // A question is answered where it stands; one of the sheet's own fields is answered there.
  const field = ask && fields.find((f) => f.key === ask.field);
  const elsewhere = field && asked.includes(field.key);
  return (
    <Box role="status">
      <p>
        Fit {fit.data.fit}
        {high > low && `, could be ${low} to ${high}`}; the bar is at {fit.data.bar}. {ask && elsewhere && `Ask next: ${ask.label.toLowerCase()}.`}
      </p>
      {field && !elsewhere && (
        field.choices.length > 0 ? (
          <ChoiceBox key={field.key} label={`Ask next: ${field.label.toLowerCase()}`} value={facts[field.key] ?? null} options={[...field.choices]} onChange={(v) => onAnswer(field.key, v)} />
        ) : (
          <TextBox key={field.key} label={`Ask next: ${field.label.toLowerCase()}`} defaultValue={facts[field.key] ?? ""} onBlur={(e) => onAnswer(field.key, (e.target as HTMLInputElement).value)} />
        )
      )}
    </Box>
  );
}
