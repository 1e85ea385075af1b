import { useState } from "react";
import { Link, useParams } from "react-router";
import styled from "styled-components";
import type { Schema } from "../../api/client";
import { Bench, Cap, Head, Inner, Pane } from "../../parts/Bench";
import { ChoiceBox, TextBox } from "../../parts/Field";
import { Skeleton, ErrorNote } from "../../parts/States";
import { useMay } from "../../common/session";
import { FormConsents } from "./FormConsents";
import { FormFields } from "./FormFields";
import { FormStanding } from "./FormStanding";
import { type Sheet, useDraft, useForm, usePreview, type Words } from "./queries";
import { Waiting } from "./Waiting";

const Part = styled.section`
  margin-top: 26px;
  & > h2 {
    margin-bottom: 10px;
  }
`;

const Pair = styled.div`
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px 16px;
  & > .wide {
    grid-column: 1 / -1;
  }
`;

const Frame = styled.iframe`
  display: block;
  width: 100%;
  height: 100%;
  border: 0;
  background: #fffdf8;
`;

/** A form being built: its parts at the left, the very page in the middle, how it stands at the right. */
export function FormPage() {
  const { form: key = "" } = useParams();
  const form = useForm(key);
  if (form.isPending) return <Skeleton />;
  if (form.isError) return <ErrorNote error={form.error} />;
  return <Builder key={key} form={form.data} />;
}

const noWords: Words = { title: "", intro: "", send: "", thanks: "", fields: {}, hints: {}, consents: {} };

/** The words in one language, and how to change them. */
export function wordsIn(draft: Sheet, language: string): Words {
  return language === draft.language ? draft.text : (draft.translations?.[language] ?? noWords);
}

function withWords(draft: Sheet, language: string, words: Words): Sheet {
  return language === draft.language ? { ...draft, text: words } : { ...draft, translations: { ...draft.translations, [language]: words } };
}

function Builder({ form }: { form: Schema["FormView"] }) {
  const { draft, setDraft, problems, state, take } = useDraft(form);
  const [language, setLanguage] = useState(draft.language);
  const may = useMay("runIntake");
  const words = wordsIn(draft, language);
  const own = draft.text;
  const say = (more: Partial<Words>) => setDraft(withWords(draft, language, { ...words, ...more }));
  const wrong = (path: string) => problems.find((p) => p.path === path)?.sentence;
  const languages = form.choices.languages.map((l) => ({ ...l, label: l.key === draft.language ? `${l.label}, its own` : draft.translations?.[l.key] ? l.label : `${l.label}, not yet translated` }));
  const inOwn = language === draft.language;
  return (
    <Bench>
      <Pane>
        <Inner>
          <Cap>
            <Link to="/intake">Intake</Link> · form
          </Cap>
          <Head>
            <h1>{form.settings.name}</h1>
          </Head>
          <Waiting form={form.key} />
          <fieldset disabled={!may} style={{ border: 0, padding: 0, minWidth: 0 }}>
            <Part style={{ marginTop: 0 }}>
              <Pair>
                <ChoiceBox label="Language" value={language} options={languages} onChange={setLanguage} />
                <TextBox label="On the button" value={words.send} placeholder={own.send} onChange={(send) => say({ send })} />
                <TextBox label="Title" value={words.title} placeholder={own.title} onChange={(title) => say({ title })} error={inOwn ? wrong("text.title") : undefined} />
                <TextBox label="Where they go after it" hint="empty: the thanks below" value={draft.thanksAddress ?? ""} onChange={(a) => setDraft({ ...draft, thanksAddress: a.trim() || null })} error={wrong("thanksAddress")} />
                <div className="wide">
                  <TextBox label="Said first" lines value={words.intro} placeholder={own.intro} onChange={(intro) => say({ intro })} />
                </div>
                <div className="wide">
                  <TextBox label="Thanks" value={words.thanks} placeholder={own.thanks} onChange={(thanks) => say({ thanks })} error={inOwn ? wrong("text.thanks") : undefined} />
                </div>
              </Pair>
            </Part>
            <Part aria-label="Questions">
              <h2>Questions</h2>
              <FormFields draft={draft} words={words} choices={form.choices.fields} problems={problems} onDraft={setDraft} onWords={say} formKey={form.key} live={form.state !== "draft"} />
            </Part>
            <Part aria-label="Consent">
              <h2>Consent</h2>
              <FormConsents draft={draft} words={words} purposes={form.choices.purposes} problems={problems} onDraft={setDraft} onWords={say} />
            </Part>
            <Part aria-label="Unseen">
              <h2>What comes along unseen</h2>
              <Pair>
                <TextBox
                  label="Labels"
                  hint="Beside page, referrer, campaign and utm_…, which always come."
                  value={draft.labels.join(", ")}
                  onChange={(l) => setDraft({ ...draft, labels: l.split(",").map((x, i, all) => (i < all.length - 1 ? x.trim() : x.trimStart())).filter((x, i, all) => x || i === all.length - 1).filter((x) => x !== "" || l.endsWith(",")) })}
                  error={problems.find((p) => p.path.startsWith("labels"))?.sentence}
                />
                <TextBox
                  label="Least seconds a person takes"
                  hint="Who is faster waits for you."
                  value={String(draft.minimumSeconds)}
                  onChange={(s) => /^\d{0,3}$/.test(s) && setDraft({ ...draft, minimumSeconds: Number(s) })}
                  error={wrong("minimumSeconds")}
                />
                <label className="wide" style={{ display: "flex", gap: 8, fontSize: 14 }}>
                  <input type="checkbox" checked={draft.asksSum} onChange={(e) => setDraft({ ...draft, asksSum: e.target.checked })} />
                  Ask a small sum, which most machines do not answer
                </label>
              </Pair>
            </Part>
          </fieldset>
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
