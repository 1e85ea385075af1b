import { useState } from "react";
import { Link } from "react-router";
import { api, must, type Schema } from "../api/client";
import { Button } from "../parts/Button";
import { Overlay } from "../parts/Dialog";
import { ChoiceBox } from "../parts/Field";
import { day } from "../parts/format";
import { tell, tellError } from "../parts/Toast";
import { useMay, useRefresh } from "../common/session";
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
          <small style={{ color: "var(--soft)" }}>
            {c.response.toLowerCase()}, {day(c.at)}
          </small>
        </span>
      ))}
      {!campaigns.length && !may && "none"}
      {may && (
        <Button look="quiet" onPress={() => setSaying(true)}>
          add a response
        </Button>
      )}
      <Overlay title="Response to a campaign" isOpen={saying} onClose={() => setSaying(false)} width={420}>
        <Say lead={lead.id} onDone={() => setSaying(false)} />
      </Overlay>
    </>
  );
}

function Say({ lead, onDone }: { lead: string; onDone: () => void }) {
  const view = useCampaigns();
  const refresh = useRefresh();
  const [campaign, setCampaign] = useState<string | null>(null);
  const [response, setResponse] = useState<string | null>(null);
  const keep = async () => {
    const path = { key: campaign! };
    try {
      const done = await must(api.POST("/api/campaigns/{key}/responses", { params: { path }, body: { response: response!, leads: [lead] } }));
      onDone();
      await refresh();
      if (!done.recorded) return tell("That was kept before.");
      tell("Kept.", () => must(api.DELETE("/api/campaigns/{key}/responses/{entry}", { params: { path: { ...path, entry: done.entry } } })).then(refresh));
    } catch (e) {
      tellError(e);
    }
  };
  if (!view.data) return null;
  return (
    <div style={{ display: "grid", gap: 12 }}>
      <ChoiceBox label="Campaign" value={campaign} options={view.data.campaigns.filter((c) => c.standing !== "retired").map((c) => ({ key: c.key, label: c.name }))} onChange={setCampaign} />
      <ChoiceBox label="What happened" value={response} options={view.data.responses} onChange={setResponse} />
      <div>
        <Button look="main" isDisabled={!campaign || !response} onPress={() => void keep()}>
          Keep
        </Button>
      </div>
    </div>
  );
}
