import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Form } from "react-aria-components";
import styled from "styled-components";
import { api, must, type Schema, type ApiError } from "../api/client";
import { Button } from "../parts/Button";
import { Overlay } from "../parts/Dialog";
import { ChoiceBox, TextBox } from "../parts/Field";
import { day, exact } from "../parts/format";
import { TagMark } from "../parts/TagMark";
import { tell, tellError } from "../parts/Toast";
import { small } from "../parts/theme";
import { LeadCampaigns as Campaigns } from "../Campaigns/LeadCampaigns";
import { useRefresh, useSession } from "../Setup/session";
import { LeadFiles } from "./Activities/LeadFiles";
import type { Sheet } from "./queries";

const Rows = styled.dl`
  margin: 14px 0 0;
  padding-top: 12px;
  border-top: 1px solid var(--hair);
  > div {
    display: grid;
    grid-template-columns: 118px minmax(0, 1fr);
    gap: 10px;
    align-items: baseline;
    min-height: 34px;
  }
  dt {
    ${small}
  }
  dd {
    margin: 0;
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 4px 8px;
    font-size: 14px;
  }
`;

const Adder = styled.div`
  width: 132px;
`;

const Said = styled.button`
  border: 0;
  background: none;
  padding: 3px 0;
  cursor: pointer;
  text-align: left;
  small {
    ${small}
    margin-left: 6px;
  }
  &:disabled {
    cursor: default;
    color: inherit;
  }
  &:not(:disabled):hover {
    box-shadow: inset 0 -1px 0 var(--slate);
  }
`;

const states: Record<string, string> = { given: "given", withdrawn: "withdrawn", asked: "to be confirmed by email", unknown: "not known" };
const marks: Record<string, string> = { given: "✓", withdrawn: "✕", asked: "…", unknown: "–" };

/** What stands around the facts: tags, what may be done with the person's data, files. */
export function Around({ lead, mayWrite }: { lead: Sheet; mayWrite: boolean }) {
  const path = { id: lead.id };
  const around = useQuery({ queryKey: ["around", lead.id, lead.version], queryFn: () => must(api.GET("/api/leads/{id}/around", { params: { path } })), placeholderData: (before) => before });
  const [about, setAbout] = useState<Schema["ConsentView"]>();
  if (!around.data) return null;
  return (
    <Rows aria-label="Tags, consent, campaigns, files">
      <div>
        <dt>Tags</dt>
        <dd>
          <Tags lead={lead} tags={around.data.tags} mayWrite={mayWrite} />
        </dd>
      </div>
      <div>
        <dt>Consent</dt>
        <dd style={{ columnGap: 20 }}>
          {around.data.consents.map((c) => (
            <Consent key={c.purpose} consent={c} mayWrite={mayWrite} onPress={() => setAbout(c)} />
          ))}
        </dd>
      </div>
      <div>
        <dt>Campaigns</dt>
        <dd>
          <Campaigns lead={lead} campaigns={around.data.campaigns} />
        </dd>
      </div>
      <div>
        <dt>Files</dt>
        <dd>
          <LeadFiles lead={lead} mayWrite={mayWrite} />
        </dd>
      </div>
      <Overlay title={about?.label ?? ""} isOpen={!!about} onClose={() => setAbout(undefined)} width={460}>
        {about && <Say lead={lead} consent={about} onDone={() => setAbout(undefined)} />}
      </Overlay>
    </Rows>
  );
}

function Tags({ lead, tags, mayWrite }: { lead: Sheet; tags: Schema["LeadTagView"][]; mayWrite: boolean }) {
  const all = useQuery({ queryKey: ["tags"], queryFn: () => must(api.GET("/api/tags")), staleTime: 60_000 });
  const refresh = useRefresh();
  const put = (key: string) => must(api.PUT("/api/leads/{id}/tags/{key}", { params: { path: { id: lead.id, key } } })).then(refresh, tellError);
  const off = (key: string) => must(api.DELETE("/api/leads/{id}/tags/{key}", { params: { path: { id: lead.id, key } } })).then(refresh, tellError);
  const rest = (all.data?.tags ?? []).filter((t) => !t.retired && !t.mergedInto && tags.every((x) => x.key !== t.key));
  return (
    <>
      {tags.map((t) => (
        <TagMark key={t.key} tag={t} onRemove={mayWrite ? () => void off(t.key).then(() => tell(`${t.name} is taken off.`, () => put(t.key))) : undefined} />
      ))}
      {mayWrite && rest.length > 0 && (
        <Adder>
          <ChoiceBox hideLabel label="Add a tag" placeholder="add a tag" value={null} options={rest.map((t) => ({ key: t.key, label: t.name }))} onChange={(k) => void put(k)} />
        </Adder>
      )}
      {!mayWrite && tags.length === 0 && "none"}
    </>
  );
}

function Consent({ consent, mayWrite, onPress }: { consent: Schema["ConsentView"]; mayWrite: boolean; onPress: () => void }) {
  const { timeZone } = useSession();
  const title = consent.at ? `${exact(consent.at, timeZone)}. ${consent.place}${consent.wording ? `: “${consent.wording}”` : ""}` : "Nothing was said about it.";
  const colour = consent.state === "given" ? "var(--good)" : consent.state === "withdrawn" ? "var(--bad)" : "var(--soft)";
  return (
    <Said disabled={!mayWrite} onClick={onPress} title={title}>
      <span aria-hidden style={{ color: colour, fontWeight: 700 }}>
        {marks[consent.state]}
      </span>{" "}
      {consent.label}
      <small>
        {states[consent.state]}
        {consent.at && consent.state !== "unknown" ? `, ${day(consent.at)}` : ""}
      </small>
    </Said>
  );
}

function Say({ lead, consent, onDone }: { lead: Sheet; consent: Schema["ConsentView"]; onDone: () => void }) {
  const [wording, setWording] = useState("");
  const [trouble, setTrouble] = useState<ApiError>();
  const refresh = useRefresh();
  const say = async (state: string) => {
    try {
      await must(api.POST("/api/leads/{id}/consents", { params: { path: { id: lead.id } }, body: { purpose: consent.purpose, state, wording } }));
      onDone();
      await refresh();
      tell(state === "given" ? "Kept with your name, the time and the words." : "Withdrawn. Nothing of this purpose goes out any more.");
    } catch (e) {
      setTrouble(e as ApiError);
    }
  };
  return (
    <Form
      onSubmit={(e) => {
        e.preventDefault();
        void say("given");
      }}
    >
      <p style={{ marginBottom: 12, fontSize: 14 }}>
        {states[consent.state]}
        {consent.wording && `: “${consent.wording}”`}
        {consent.place && ` (${consent.place})`}
      </p>
      <TextBox label="They agreed in these words" lines autoFocus value={wording} onChange={setWording} error={trouble?.message} />
      <div style={{ display: "flex", gap: 8, marginTop: 14 }}>
        <Button look="main" type="submit">
          They agreed
        </Button>
        <Button look="bad" onPress={() => void say("withdrawn")}>
          They withdrew
        </Button>
      </div>
    </Form>
  );
}
