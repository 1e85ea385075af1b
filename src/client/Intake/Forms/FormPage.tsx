import { useState } from "react";
import { Link, useParams } from "react-router";
import styled from "styled-components";
import type { Schema } from "../../api/client";
import { useMay } from "../../common/session";
import { Bench, Cap, Head, Inner, Pane } from "../../parts/Bench";
import { ErrorNote, Skeleton } from "../../parts/States";
import { FormConsents } from "./FormConsents";
import { FormFields } from "./FormFields";
import { FormStanding } from "./FormStanding";
import { FormUnseen } from "./FormUnseen";
import { FormWords } from "./FormWords";
import { useDraft, useForm, usePreview, useWaiting, type Sheet, type Words } from "./queries";
import { Waiting } from "./Waiting";
import { withWords, wordsIn } from "./words";

const Part = styled.section`
  margin-top: 26px;
  &:first-child {
    margin-top: 0;
  }
  & > h2 {
    margin-bottom: 10px;
  }
`;

const Fields = styled.fieldset`
  border: 0;
  padding: 0;
  min-width: 0;
`;

/* The visitors' page is light, whatever the theme is here. */
const Frame = styled.iframe`
  display: block;
  width: 100%;
  height: 100%;
  min-height: 420px;
  border: 0;
  background: var(--page);
`;

/** A form being built: its parts at the left, the very page in the middle, how it stands at the right. */
export function FormPage() {
  const { form: key = "" } = useParams();
  const form = useForm(key);
  // Stands above the form's parts: asked with it, so that nothing moves down later.
  const waiting = useWaiting(key);
  if (!form.data || waiting.isPending)
    return (
      <Bench>
        <Pane>{form.isError ? <ErrorNote error={form.error} /> : <Skeleton />}</Pane>
        <Pane $width={400} $sheet aria-label="Preview" />
        <Pane $width={300} aria-label="How it stands" />
      </Bench>
    );
  return <Builder key={key} form={form.data} />;
}

type View = Schema["FormView"];

function Builder({ form }: { form: View }) {
  const { draft, setDraft, problems, state, take } = useDraft(form);
  const [language, setLanguage] = useState(draft.language);
  const may = useMay("runIntake");
  const words = wordsIn(draft, language);
  const say = (more: Partial<Words>) => setDraft(withWords(draft, language, { ...words, ...more }));
  const common = { draft, words, problems, onDraft: setDraft, onWords: say };
  return (
    <Bench>
      <Pane aria-label={form.settings.name}>
        <Inner>
          <Cap>
            <Link to="/intake">Intake</Link> · form
          </Cap>
          <Head>
            <h1>{form.settings.name}</h1>
          </Head>
          <Waiting form={form.key} />
          <Fields disabled={!may}>
            <Part aria-label="Words">
              <FormWords {...common} languages={form.choices.languages} language={language} onLanguage={setLanguage} />
            </Part>
            <Part aria-label="Questions">
              <h2>Questions</h2>
              <FormFields {...common} choices={form.choices.fields} formKey={form.key} live={form.state !== "draft"} />
            </Part>
            <Part aria-label="Consent">
              <h2>Consent</h2>
              <FormConsents {...common} purposes={form.choices.purposes} />
            </Part>
            <Part aria-label="Unseen">
              <h2>What comes along unseen</h2>
              <FormUnseen draft={draft} problems={problems} onDraft={setDraft} />
            </Part>
          </Fields>
        </Inner>
      </Pane>
      <Pane $width={400} $sheet aria-label="Preview">
        <Preview draft={draft} language={language} />
      </Pane>
      <Pane $width={300} aria-label="How it stands">
        <FormStanding form={form} problems={problems} state={state} onTaken={take} />
      </Pane>
    </Bench>
  );
}

function Preview({ draft, language }: { draft: Sheet; language: string }) {
  const page = usePreview(draft, language);
  return <Frame title="The page as visitors see it" sandbox="" srcDoc={page.data ?? ""} />;
}
