import { useState } from "react";
import { Link } from "react-router";
import { api, must, type Schema } from "../api/client";
import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import { useMay } from "../common/session";
import { Button } from "../parts/Button";
import { Overlay } from "../parts/Dialog";
import { ChoiceBox } from "../parts/Field";
import { day } from "../parts/format";
import { Soft } from "../parts/Words";
import { useCampaigns } from "./queries";

type Props = { lead: { id: string }; campaigns: Schema["LeadCampaignView"][] };

/** The campaigns that reached a lead, each with the last thing it did; and the way to say what it did. */
export function LeadCampaigns({ lead, campaigns }: Props) {
  const maySee = useMay("seeIntake");
  const may = useMay("runIntake");
  const [saying, setSaying] = useState(false);
  return (
    <>
      {campaigns.map((c) => (
        <span key={c.key}>
          {maySee ? <Link to={`/intake/campaigns/${c.key}`}>{c.name}</Link> : c.name}{" "}
          <Soft>
            {c.response.toLowerCase()}, {day(c.at)}
          </Soft>
        </span>
      ))}
      {!campaigns.length && !may && "none"}
      {may && (
        <Button look="inline" onPress={() => setSaying(true)}>
          add a response
        </Button>
      )}
      {saying && <Say lead={lead.id} onDone={() => setSaying(false)} />}
    </>
  );
}

const undo = (key: string, entry: string) => must(api.DELETE("/api/campaigns/{key}/responses/{entry}", { params: { path: { key, entry } } }));

function Say({ lead, onDone }: { lead: string; onDone: () => void }) {
  const view = useCampaigns();
  const form = useForm({ called: "the response", initial: { campaign: "", response: "" }, asks: false });
  const { campaign, response } = form.values;
  const keep = () =>
    form.send(() => must(api.POST("/api/campaigns/{key}/responses", { params: { path: { key: campaign } }, body: { response, leads: [lead] } })), {
      changes: ["around", "campaigns"],
      words: (done) => (done.recorded ? "Kept." : "That was kept before."),
      back: (done) => (done.recorded ? undo(campaign, done.entry) : Promise.resolve()),
      then: onDone,
    });
  const offered = (view.data?.campaigns ?? []).filter((c) => c.standing !== "retired").map((c) => ({ key: c.key, label: c.name }));
  return (
    <Overlay title="Response to a campaign" isOpen onClose={onDone} width={420}>
      <FormBox form={form} words="Keep" onSend={keep} isReady={!!campaign && !!response}>
        <ChoiceBox label="Campaign" {...form.bind("campaign")} value={campaign || null} options={offered} />
        <ChoiceBox label="What happened" {...form.bind("response")} value={response || null} options={view.data?.responses ?? []} />
      </FormBox>
    </Overlay>
  );
}
