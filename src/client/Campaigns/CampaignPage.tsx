import { useState } from "react";
import { useParams } from "react-router";
import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { useAct } from "../common/acting";
import { useMay } from "../common/session";
import { Bench, Head, Inner, Pane } from "../parts/Bench";
import { Button } from "../parts/Button";
import { count, day, money, whole } from "../parts/format";
import { Unbroken } from "../parts/Words";
import { ErrorNote, Skeleton } from "../parts/States";
import { CampaignDialog } from "./CampaignDialog";
import { Costs } from "./Costs";
import { Members } from "./Members";
import { useCampaign, useCampaigns } from "./queries";
import { Rates } from "./Rates";
import { Writing } from "./Writing";

const Told = styled.p`
  font-size: 18px;
  max-width: 760px;
  margin-bottom: 22px;
`;

/** One campaign: what people did about it, what it cost, and the people to write to. */
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
      <Pane aria-label={sheet.data.campaign.name}>
        <Inner>
          <Top sheet={sheet.data} />
          <Told>{inWords(sheet.data)}</Told>
          <Rates sheet={sheet.data} chosen={response} onChoose={setResponse} />
          <Members key={response} campaign={key} response={response} label={sheet.data.rates.find((r) => r.response === response)?.label} onAll={() => setResponse(null)} />
        </Inner>
      </Pane>
      <Pane $width={340} $sheet aria-label={sheet.data.showsCosts ? "Cost and writing" : "Writing"}>
        <Inner>
          {sheet.data.showsCosts && <Costs sheet={sheet.data} />}
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
  const [changing, setChanging] = useState(false);
  const kind = view.data?.kinds.find((k) => k.key === campaign.kind)?.label;
  return (
    <Head>
      <div>
        <h1>{campaign.name}</h1>
        <p>
          {kind}, {day(campaign.starts)} to {day(campaign.ends)}, {campaign.standing}.{sheet.owner ? ` ${sheet.owner} answers for it.` : ""} {sheet.about}
        </p>
      </div>
      {may && (
        <Unbroken>
          <Button onPress={() => setChanging(true)}>Change</Button> <Retire sheet={sheet} />
        </Unbroken>
      )}
      {changing && view.data && <CampaignDialog view={view.data} sheet={sheet} onDone={() => setChanging(false)} onLeave={() => setChanging(false)} />}
    </Head>
  );
}

function Retire({ sheet }: { sheet: Schema["CampaignSheet"] }) {
  const act = useAct();
  const { key, name, kind, starts, ends, budget, target } = sheet.campaign;
  const put = (retired: boolean, version: number) =>
    must(api.PUT("/api/campaigns/{key}", { params: { path: { key } }, body: { name, kind, starts, ends, budget, target, owner: sheet.ownerId, about: sheet.about, retired }, headers: { "If-Match": `"${version}"` } }));
  const turn = () =>
    act.run(() => put(!sheet.retired, sheet.version), {
      changes: ["campaigns"],
      words: sheet.retired ? "Offered again." : "Retired: offered no more; what came by it keeps it.",
      back: () => put(sheet.retired, sheet.version + 1),
    });
  return (
    <Button look="quiet" isPending={act.busy} onPress={() => void turn()}>
      {sheet.retired ? "Bring back" : "Retire"}
    </Button>
  );
}

// What the numbers say, as one would tell it.
function inWords({ campaign: c }: Schema["CampaignSheet"]) {
  const brought = c.target ? `It brought in ${whole(c.fresh)} of ${count(c.target, "new person", "new people")} wanted` : `It brought in ${count(c.fresh, "new person", "new people")}`;
  const cost = c.spent ? `, for ${money(c.spent, c.currency)}${c.budget != null ? ` of ${money(c.budget, c.currency)}` : ""}${c.costEach != null ? `: ${money(c.costEach, c.currency)} each` : ""}` : "";
  const over = c.budget != null && c.spent != null && c.spent > c.budget ? ` That is ${money(c.spent - c.budget, c.currency)} over its budget.` : "";
  const became = c.handedOver ? ` ${whole(c.handedOver)} of them ${c.handedOver === 1 ? "was" : "were"} handed over, ${c.won ? `${whole(c.won)} won, worth ${money(c.wonAmount, c.currency)}` : "none is won yet"}.` : "";
  return `${brought}${cost}.${over}${became}`;
}
