import type { Schema } from "../api/client";
import { Button } from "../parts/Button";
import { TextBox } from "../parts/Field";
import { Columns } from "../parts/Layout";
import { Hint, Wrong } from "../parts/Words";

type Question = Schema["Question"];
type Props = { value: Question[]; onChange: (questions: Question[]) => void; error?: string };

/** What is asked beyond need, budget, authority and timing. */
export function QuestionRows({ value, onChange, error }: Props) {
  const put = (i: number, change: Partial<Question>) => onChange(value.map((q, at) => (at === i ? { ...q, ...change } : q)));
  return (
    <>
      <Hint $below={2}>Need, budget, authority and timing are asked everywhere.</Hint>
      {value.map((q, i) => (
        <Columns key={i} $of="220px 1fr 34px" $gap={2} $below={2}>
          <TextBox label="" aria-label={`Question ${i + 1}`} value={q.label} onChange={(label) => put(i, { label })} />
          <TextBox label="" aria-label={`What a good answer to question ${i + 1} says`} placeholder="what a good answer says" value={q.hint ?? ""} onChange={(hint) => put(i, { hint })} />
          <Button look="quiet" aria-label={`Leave out ${q.label}`} onPress={() => onChange(value.filter((_, at) => at !== i))}>
            ×
          </Button>
        </Columns>
      ))}
      <Button look="quiet" onPress={() => onChange([...value, { key: "", label: "", hint: "" }])}>
        Add a question
      </Button>
      {error && <Wrong>{error}</Wrong>}
    </>
  );
}
