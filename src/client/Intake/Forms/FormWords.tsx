import styled from "styled-components";
import type { Schema } from "../../api/client";
import { ChoiceBox, TextBox } from "../../parts/Field";
import type { Sheet, Words } from "./queries";

export const Pair = styled.div`
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 10px 16px;
  & > .wide {
    grid-column: 1 / -1;
  }
  @media (max-width: 600px) {
    grid-template-columns: minmax(0, 1fr);
  }
`;

type Props = {
  draft: Sheet;
  words: Words;
  problems: Schema["DraftProblem"][];
  languages: Schema["FormView"]["choices"]["languages"];
  language: string;
  onLanguage: (language: string) => void;
  onDraft: (draft: Sheet) => void;
  onWords: (more: Partial<Words>) => void;
};

/** What a form says around its questions, in each of its languages. */
export function FormWords({ draft, words, problems, languages, language, onLanguage, onDraft, onWords }: Props) {
  const own = draft.text;
  const isOwn = language === draft.language;
  const wrong = (path: string) => problems.find((p) => p.path === path)?.sentence;
  const labelled = languages.map((l) => ({ ...l, label: l.key === draft.language ? `${l.label}, its own` : draft.translations?.[l.key] ? l.label : `${l.label}, not yet translated` }));
  return (
    <Pair>
      <ChoiceBox label="Language" value={language} options={labelled} onChange={onLanguage} />
      <TextBox label="On the button" value={words.send} placeholder={own.send} onChange={(send) => onWords({ send })} />
      <TextBox label="Title" value={words.title} placeholder={own.title} onChange={(title) => onWords({ title })} error={isOwn ? wrong("text.title") : undefined} />
      <TextBox label="Where they go after it" hint="empty: the thanks below" value={draft.thanksAddress ?? ""} onChange={(a) => onDraft({ ...draft, thanksAddress: a.trim() || null })} error={wrong("thanksAddress")} />
      <div className="wide">
        <TextBox label="Said first" lines value={words.intro} placeholder={own.intro} onChange={(intro) => onWords({ intro })} />
      </div>
      <div className="wide">
        <TextBox label="Thanks" value={words.thanks} placeholder={own.thanks} onChange={(thanks) => onWords({ thanks })} error={isOwn ? wrong("text.thanks") : undefined} />
      </div>
    </Pair>
  );
}
