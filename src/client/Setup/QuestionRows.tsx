import type { Schema } from "../api/client";
import { Button } from "../parts/Button";
import { TextBox } from "../parts/Field";

type Question = Schema["Question"];
type Props = { questions: Question[]; onChange: (questions: Question[]) => void; error?: string };

/** What is asked beyond need, budget, authority and timing. */
export function QuestionRows({ questions, onChange, error }: Props) {
  const put = (i: number, change: Partial<Question>) => onChange(questions.map((q, at) => (at === i ? { ...q, ...change } : q)));
  return (
    <>
      <p style={{ fontSize: 13, color: "var(--soft)", marginBottom: 6 }}>Need, budget, authority and timing are asked everywhere.</p>
      {questions.map((q, i) => (
        <div key={i} style={{ display: "grid", gridTemplateColumns: "220px 1fr 34px", gap: 10, marginBottom: 6 }}>
          <TextBox label="" aria-label={`Question ${i + 1}`} value={q.label} onChange={(label) => put(i, { label })} />
          <TextBox label="" aria-label={`What a good answer to question ${i + 1} says`} placeholder="what a good answer says" value={q.hint ?? ""} onChange={(hint) => put(i, { hint })} />
          <Button look="quiet" aria-label={`Leave out ${q.label}`} onPress={() => onChange(questions.filter((_, at) => at !== i))}>
            ×
          </Button>
        </div>
      ))}
      <Button look="quiet" onPress={() => onChange([...questions, { key: "", label: "", hint: "" }])}>
        Add a question
      </Button>
      {error && (
        <p role="alert" style={{ color: "var(--bad)", fontSize: 13 }}>
          {error}
        </p>
      )}
    </>
  );
}
