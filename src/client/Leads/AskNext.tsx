import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, must } from "../api/client";
import { offered, useFields } from "../common/fields";
import { keys } from "../common/keys";
import type { Field } from "../Conditions/conditions";
import { Aside } from "../parts/Bench";
import { ChoiceBox, TextBox } from "../parts/Field";
import { Block } from "../parts/Layout";
import { useSettled } from "../parts/useSettled";

type Props = { facts: Record<string, string>; onAnswer: (field: string, value: string) => void; asked: readonly string[] };

const pause = 300;

/** While one talks: how well they fit by what is known, and the one fact that would tell most. */
export function AskNext({ facts, onAnswer, asked }: Props) {
  const fields = useFields().data ?? [];
  const still = useSettled(facts, pause);
  const fit = useQuery({ queryKey: keys.fitSoFar(still), queryFn: () => must(api.POST("/api/scoring/fit", { body: { facts: still } })), placeholderData: keepPreviousData, gcTime: 10_000 });
  if (!fit.data || Object.values(facts).every((f) => !f)) return null;
  const { ask, low, high } = fit.data;
  // A question is answered where it stands; one of the sheet's own fields is answered there.
  const field = ask && fields.find((f) => f.key === ask.field);
  const elsewhere = field && asked.includes(field.key);
  return (
    <Block $below={4}>
      <Aside role="status">
        <p>
          Fit {fit.data.fit}
          {high > low && `, could be ${low} to ${high}`}; the bar is at {fit.data.bar}. {ask && elsewhere && `Ask next: ${ask.label.toLowerCase()}.`}
        </p>
        {field && !elsewhere && <Answer key={field.key} field={field} value={facts[field.key]} onAnswer={(value) => onAnswer(field.key, value)} />}
      </Aside>
    </Block>
  );
}

function Answer({ field, value, onAnswer }: { field: Field; value: string | undefined; onAnswer: (value: string) => void }) {
  const label = `Ask next: ${field.label.toLowerCase()}`;
  if (field.choices.length > 0) return <ChoiceBox label={label} value={value ?? null} options={offered(field, value)} onChange={onAnswer} />;
  return <TextBox label={label} defaultValue={value ?? ""} onBlur={(e) => onAnswer((e.target as HTMLInputElement).value)} />;
}
