import { useState } from "react";
import styled from "styled-components";
import { api, must, type Schema } from "../../api/client";
import { Button } from "../../parts/Button";
import { Cap, Inner } from "../../parts/Bench";
import { ChoiceBox, TextBox } from "../../parts/Field";
import { moment } from "../../parts/format";
import { tell, tellError } from "../../parts/Toast";
import { small } from "../../parts/theme";
import { useMay, useRefresh, useSession } from "../../common/session";

const Stack = styled.div`
  display: grid;
  gap: 12px;
  h2 {
    margin-top: 12px;
  }
  ul {
    padding-left: 18px;
    font-size: 14px;
  }
  textarea {
    width: 100%;
    min-height: 92px;
    font: 12px/1.4 "DejaVu Sans Mono", monospace;
    border: 1px solid var(--hair);
    border-radius: 3px;
    background: var(--sheet);
    padding: 8px;
  }
  .edition {
    display: flex;
    justify-content: space-between;
    align-items: baseline;
    font-size: 14px;
  }
  .ready {
    color: var(--bad);
  }
  summary {
    ${small}
    cursor: pointer;
  }
`;

const states: Record<string, string> = { draft: "Not published yet", live: "Live", paused: "Closed for now" };

type Props = { form: Schema["FormView"]; problems: Schema["DraftProblem"][]; state: string; onTaken: (form: Schema["FormView"]) => void };

/** Whether visitors see it, what they would see after publishing, its address and snippets, and the editions before. */
export function FormStanding({ form, problems, state, onTaken }: Props) {
  const may = useMay("runIntake");
  const refresh = useRefresh();
  const { timeZone } = useSession();
  const path = { key: form.key };
  const act = async <T,>(call: Promise<T>, said: string, then?: (result: T) => void) => {
    try {
      then?.(await call);
      await refresh();
      tell(said);
    } catch (e) {
      tellError(e);
    }
  };
  const live = form.editions.find((e) => e.live);
  return (
    <Inner style={{ padding: "20px 18px 32px" }}>
      <Stack>
        <div>
          <strong style={{ fontSize: 18 }}>{states[form.state]}</strong>
          <Cap>
            {live ? `edition ${live.number}, ${moment(live.publishedAt, timeZone)}` : "Visitors get it once you publish."}
            {form.ahead && " · your draft says something else"}
          </Cap>
        </div>
        {state === "stale" && <p role="alert">Somebody else changed this draft. Reload to see theirs; yours is not kept.</p>}
        {problems.length > 0 && (
          <ul aria-label="To be put right" className="ready">
            {problems.map((p) => (
              <li key={p.path + p.sentence}>{p.sentence}</li>
            ))}
          </ul>
        )}
        {may && (
          <div style={{ display: "flex", gap: 8, flexWrap: "wrap" }}>
            <Button
              look={form.state === "draft" || form.ahead ? "main" : "plain"}
              isDisabled={problems.length > 0 || state !== "kept" || (form.state === "live" && !form.ahead)}
              onPress={() => act(must(api.POST("/api/forms/{key}/publish", { params: { path } })), "Published.", onTaken)}
            >
              Publish
            </Button>
            {form.state === "live" && <Button onPress={() => act(must(api.PUT("/api/forms/{key}/paused", { params: { path }, body: { paused: true } })), "Closed. Who opens it reads so.")}>Close for now</Button>}
            {form.state === "paused" && <Button onPress={() => act(must(api.PUT("/api/forms/{key}/paused", { params: { path }, body: { paused: false } })), "Open again.")}>Open again</Button>}
          </div>
        )}
        <Cap role="status">{state === "keeping" ? "keeping …" : "all kept"}</Cap>
        {form.state !== "draft" && <Places form={form} />}
        <h2>What a post counts as</h2>
        <Settings form={form} may={may} onKept={refresh} />
        {form.editions.length > 1 && <h2>Editions</h2>}
        {form.editions.length > 1 &&
          form.editions.map((e) => (
            <div className="edition" key={e.number}>
              <span>
                {e.number}, {moment(e.publishedAt, timeZone)}
              </span>
              {e.live ? <span>live</span> : may && <Button look="quiet" onPress={() => act(must(api.POST("/api/forms/{key}/editions/{number}/draft", { params: { path: { ...path, number: e.number } } })), `The draft says what edition ${e.number} said.`, onTaken)}>To the draft</Button>}
            </div>
          ))}
      </Stack>
    </Inner>
  );
}

function Places({ form }: { form: Schema["FormView"] }) {
  const copy = (text: string) => navigator.clipboard.writeText(text).then(() => tell("Copied."), tellError);
  return (
    <>
      <h2>Where it stands</h2>
      <a href={`/f/${form.key}`} target="_blank" rel="noreferrer" style={{ overflowWrap: "anywhere", fontSize: 14 }}>
        {form.page}
      </a>
      {[
        ["In another page, without script", form.snippet],
        ["In a frame of another page", form.inset],
      ].map(([label, html]) => (
        <details key={label}>
          <summary>{label}</summary>
          <textarea readOnly aria-label={label} value={html} />
          <Button onPress={() => copy(html!)}>Copy</Button>
        </details>
      ))}
      <Cap>The same address takes one JSON object by POST, with the same names.</Cap>
    </>
  );
}

function Settings({ form, may, onKept }: { form: Schema["FormView"]; may: boolean; onKept: () => Promise<void> }) {
  const [name, setName] = useState(form.settings.name);
  const keep = (more: Partial<Schema["FormSettings"]>) =>
    must(api.PUT("/api/forms/{key}/settings", { params: { path: { key: form.key } }, body: { ...form.settings, ...more } })).then(onKept, (e) => {
      setName(form.settings.name);
      tellError(e);
    });
  const none = "–";
  return (
    <>
      <ChoiceBox label="For engagement" value={form.settings.eventKind} options={form.choices.eventKinds} isDisabled={!may} onChange={(eventKind) => void keep({ eventKind })} />
      <ChoiceBox label="Campaign, unless the link names one" value={form.settings.campaign ?? none} options={[{ key: none, label: "none" }, ...form.choices.campaigns]} isDisabled={!may} onChange={(c) => void keep({ campaign: c === none ? null : c })} />
      <TextBox label="Internal name" value={name} onChange={setName} isDisabled={!may} onBlur={() => name !== form.settings.name && void keep({ name })} />
    </>
  );
}
