import { useState } from "react";
import type { Schema } from "../../api/client";
import { ChoiceBox } from "../../parts/Field";
import { Block } from "../../parts/Layout";
import { Wrong } from "../../parts/Words";
import { FormQuestion, Questions } from "./FormQuestion";
import type { Sheet, Words } from "./queries";

type Props = {
  draft: Sheet;
  words: Words;
  choices: Schema["FormFieldChoice"][];
  problems: Schema["DraftProblem"][];
  onDraft: (draft: Sheet) => void;
  onWords: (more: Partial<Words>) => void;
  formKey: string;
  live: boolean;
};

/** The questions in their order; each is a field of the catalogue with words of its own. */
export function FormFields({ draft, words, choices, problems, onDraft, onWords, formKey, live }: Props) {
  const [added, setAdded] = useState<string | null>(null);
  const rest = choices.filter((c) => draft.fields.every((f) => f.key !== c.key));
  const put = (fields: Sheet["fields"]) => onDraft({ ...draft, fields });
  const move = (at: number, by: number) => {
    const fields = [...draft.fields];
    fields.splice(at + by, 0, ...fields.splice(at, 1));
    put(fields);
  };
  const add = (key: string) => {
    setAdded(key);
    put([...draft.fields, { key, required: false, lines: false }]);
  };
  return (
    <>
      {problems
        .filter((p) => p.path === "fields")
        .map((p) => (
          <Wrong key={p.sentence} $below={2}>
            {p.sentence}
          </Wrong>
        ))}
      <Questions>
        {draft.fields.map((f, i) => (
          <FormQuestion
            key={f.key}
            field={f}
            known={choices.find((c) => c.key === f.key)}
            draft={draft}
            words={words}
            wrong={problems.find((p) => p.path === `fields.${f.key}`)?.sentence}
            onWords={onWords}
            onChange={(more) => put(draft.fields.map((x) => (x.key === f.key ? { ...x, ...more } : x)))}
            onMove={(by) => move(i, by)}
            isFirst={i === 0}
            isLast={i === draft.fields.length - 1}
            onDrop={() => put(draft.fields.filter((x) => x.key !== f.key))}
            backfill={live ? { formKey, fresh: added === f.key } : undefined}
          />
        ))}
      </Questions>
      <Block $width={260} $above={3}>
        <ChoiceBox label="Ask for one more" value={null} options={rest.map((c) => ({ key: c.key, label: c.label }))} onChange={add} />
      </Block>
    </>
  );
}
