import { useState } from "react";
import { useParams } from "react-router";
import { api, must, type Schema } from "../api/client";
import { Bench, Cluster, Head, Inner, Pane } from "../parts/Bench";
import { Button } from "../parts/Button";
import { Overlay } from "../parts/Dialog";
import { count, day, money, whole } from "../parts/format";
import { Skeleton, ErrorNote } from "../parts/States";
import { tell, tellError } from "../parts/Toast";
import { useMay, useRefresh } from "../common/session";
import { CampaignForm } from "./CampaignForm";
import { Costs } from "./Costs";
import { Members } from "./Members";
import { useCampaign, useCampaigns } from "./queries";
import { Rates } from "./Rates";
import { Writing } from "./Writing";

/** One campaign: what people did about it, what it cost, whom to write to. */
export function CampaignPage() {
  const { campaign: key = "" } = useParams();
  const sheet = useCampaign(key);
  const [response, setResponse] = useState<string | null>(null);
  if (!sheet.data)
    return (
      <Bench>
        <Pane>
          <Inner>{sheet.isError ? <ErrorNote error={sheet.error} /> : <Skeleton />}</Inner>
        </Pane>
      </Bench>
    );
  return (
    <Bench>
      <Pane>
        <Inner>
          <Top sheet={sheet.data} />
          <p style={{ fontSize: 18, maxWidth: 760, marginBottom: 22 }}>{inWords(sheet.data)}</p>
          <Rates sheet={sheet.data} chosen={response} onChoose={setResponse} />
          <Members key={response} campaign={key} response={response} label={sheet.data.rates.find((r) => r.response === response)?.label} onAll={() => setResponse(null)} />
        </Inner>
      </Pane>
      <Pane $width={340} $sheet>
        <Inner>
          <Costs sheet={sheet.data} />
          <Writing sheet={sheet.data} />
        </Inner>
      </Pane>
    </Bench>
  );
}

function Top({ sheet }: { sheet: Schema["CampaignSheet"] }) {
  const { campaign } = sheet;
  const view = useCampaigns();
  const may = useMay("runIntake");
  const refresh = useRefresh();
  const [changing, setChanging] = useState(false);
  const kind = view.data?.kinds.find((k) => k.key === campaign.kind)?.label;
  const retire = async (retired: boolean, version: number) => {
    const { name, kind, starts, ends, budget, target } = campaign;
    const body = { name, kind, starts, ends, budget, target, owner: sheet.ownerId, about: sheet.about, retired };
    await must(api.PUT("/api/campaigns/{key}", { params: { path: { key: campaign.key } }, body, headers: { "If-Match": `"${version}"` } }));
    await refresh();
  };
  const turn = () => void retire(!sheet.retired, sheet.version).then(() => tell(sheet.retired ? "Offered again." : "Retired: offered no more; what came by it keeps it.", () => retire(sheet.retired, sheet.version + 1)), tellError);
  return (
    <Head>
      <div>
        <h1>{campaign.name}</h1>
        <p>
          {kind}, {day(campaign.starts)} to {day(campaign.ends)}, {campaign.standing}.{sheet.owner ? ` ${sheet.owner} answers for it.` : ""} {sheet.about}
        </p>
      </div>
      {may && (
        <Cluster style={{ flexWrap: "nowrap" }}>
          <Button onPress={() => setChanging(true)}>Change</Button>
          <Button look="quiet" onPress={turn}>
            {sheet.retired ? "Bring back" : "Retire"}
          </Button>
        </Cluster>
      )}
      <Overlay title={`Change ${campaign.name}`} isOpen={changing} onClose={() => setChanging(false)}>
        {view.data && (
          <CampaignForm
            view={view.data}
            sheet={sheet}
            onDone={() => {
              setChanging(false);
              tell("Changed.");
            }}
          />
        )}
      </Overlay>
    </Head>
  );
}

// What the numbers say, as one would tell it.
function inWords({ campaign: c }: Schema["CampaignSheet"]) {
  const brought = c.target ? `It brought in ${whole(c.fresh)} of ${count(c.target, "new person", "new people")} wanted` : `It brought in ${count(c.fresh, "new person", "new people")}`;
  const cost = c.spent ? `, for ${money(c.spent, c.currency)}${c.budget != null ? ` of ${money(c.budget, c.currency)}` : ""}${c.costEach != null ? `: ${money(c.costEach, c.currency)} each` : ""}` : "";
  const over = c.budget != null && c.spent > c.budget ? ` That is ${money(c.spent - c.budget, c.currency)} over its budget.` : "";
  const became = c.handedOver ? ` ${whole(c.handedOver)} of them ${c.handedOver === 1 ? "was" : "were"} handed over, ${c.won ? `${whole(c.won)} won, worth ${money(c.wonAmount, c.currency)}` : "none is won yet"}.` : "";
  return `${brought}${cost}.${over}${became}`;
}
