import { useState } from "react";
import { Link } from "react-router";
import type { Schema } from "../api/client";
import { Aside } from "../parts/Bench";
import { Button } from "../parts/Button";
import { ChoiceBox, TextBox } from "../parts/Field";
import { day, money, readNumber } from "../parts/format";
import { StoryList } from "../Leads/Story";
import { Big, Bigs, WhyPane } from "../parts/WhyPane";
import type { Move } from "./DealsPage";
import { RecordFacts } from "./RecordFacts";

const reasons = ["too dear", "went silent", "chose another", "not a match", "we declined", "budget moved"].map((r) => ({ key: r, label: r }));

type Props = { sheet: Schema["DealSheet"]; view: Schema["DealsView"]; mayMove: boolean; onMove: (change: Move) => Promise<void> };

/** A deal opened beside the lanes: worth, where it stands and why, and moving it without a mouse. */
export function DealWhy({ sheet, view, mayMove, onMove }: Props) {
  const { deal } = sheet;
  const stages = view.pipelines.flatMap((p) => p.stages.map((s) => ({ ...s, pipeline: p.key }))).filter((s) => s.pipeline === view.pipeline);
  const days = Math.max(0, Math.floor((new Date(view.today).getTime() - new Date(deal.stageSince).getTime()) / 86_400_000));
  return (
    <WhyPane title={deal.name}>
      <Bigs>
        <Big value={<span style={{ font: "inherit", color: "inherit", fontSize: 26 }}>{money(deal.amount, deal.currency)}</span>} caption={`${money((deal.amount * sheet.probability) / 100, deal.currency)} weighted`} />
        <Big value={<span style={{ font: "inherit", color: "inherit", fontSize: 26 }}>{sheet.probability} %</span>} caption={sheet.stageName} />
      </Bigs>
      {deal.late && (
        <Aside style={{ borderColor: "var(--bad)", marginBottom: 12 }}>
          <b>The expected close has passed</b> on {day(deal.expectedClose)}. Move it, or close the deal.
        </Aside>
      )}
      <p style={{ fontSize: 14, marginBottom: 12 }}>
        {deal.accountName ? `${deal.contactName} at ${deal.accountName}` : deal.contactName}. {deal.ownerName && `${deal.ownerName} follows it. `}
        In this stage for {days} {days === 1 ? "day" : "days"}. Came through {sheet.sourceName}
        {sheet.campaignName && `, ${sheet.campaignName}`}.{" "}
        {deal.leadId && <Link to={`/leads/${deal.leadId}`}>The lead it was</Link>}
      </p>
      {mayMove && <Mover deal={deal} stages={stages} onMove={onMove} />}
      <div style={{ marginTop: 16 }}>
        <RecordFacts kind="deals" id={deal.id} title="What is wanted" mayWrite={mayMove} open />
        <RecordFacts kind="contacts" id={deal.contactId} title={deal.contactName} mayWrite={mayMove} />
        {deal.accountId && <RecordFacts kind="accounts" id={deal.accountId} title={deal.accountName ?? "Account"} mayWrite={mayMove} />}
      </div>
      <h3 style={{ margin: "18px 0 2px" }}>Story</h3>
      <StoryList entries={sheet.story} />
    </WhyPane>
  );
}

function Mover({ deal, stages, onMove }: { deal: Schema["DealItem"]; stages: Schema["StageView"][]; onMove: Props["onMove"] }) {
  const [closes, setCloses] = useState(deal.expectedClose);
  const [amount, setAmount] = useState(String(deal.amount));
  const [losing, setLosing] = useState<string>();
  const chooseStage = (key: string) => (stages.find((s) => s.key === key)?.counts === "lost" ? setLosing(key) : void onMove({ stage: key }));
  const worth = readNumber(amount);
  const changed = (closes && closes !== deal.expectedClose) || (amount.trim() !== "" && worth !== deal.amount && worth >= 0);
  return (
    <div style={{ display: "grid", gap: 8, marginTop: 14 }}>
      <ChoiceBox label="Stage" value={deal.stageKey} options={stages.map((s) => ({ key: s.key, label: s.name }))} onChange={chooseStage} />
      {losing && <ChoiceBox label="Why is it lost?" value={null} options={reasons} onChange={(lostReason) => (setLosing(undefined), void onMove({ stage: losing, lostReason }))} />}
      <div style={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 8 }}>
        <TextBox label="Expected close" type="date" value={closes} onChange={setCloses} />
        <TextBox label={`Amount, ${deal.currency}`} inputMode="decimal" value={amount} onChange={setAmount} error={Number.isNaN(worth) ? "a number" : undefined} />
      </div>
      {changed && !Number.isNaN(worth) && (
        <div>
          <Button onPress={() => void onMove({ expectedClose: closes === deal.expectedClose ? undefined : closes, amount: worth === deal.amount ? undefined : worth })}>Keep</Button>
        </div>
      )}
    </div>
  );
}
