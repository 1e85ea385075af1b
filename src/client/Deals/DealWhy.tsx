import { useState } from "react";
import { Link } from "react-router";
import type { Schema } from "../api/client";
import { Aside } from "../parts/Bench";
import { Button } from "../parts/Button";
import { DayBox } from "../parts/DayBox";
import { ChoiceBox, TextBox } from "../parts/Field";
import { count, day, money } from "../parts/format";
import { asPlain, numberOf, plainNumber } from "../common/numbers";
import { NumberText } from "../common/NumberText";
import { tellError } from "../parts/Toast";
import { Fold } from "../parts/Fold";
import { StoryList } from "../Leads/Story";
import { Findings } from "../Leads/Qualifying";
import { Big, Bigs, WhyPane } from "../parts/WhyPane";
import { DealPeople } from "./DealPeople";
import { DealProducts } from "./DealProducts";
import { DealCompetitors } from "./DealCompetitors";
import { DealSteps } from "./DealSteps";
import type { Move } from "./moving";
import { RecordFacts } from "./RecordFacts";

type Sheet = Schema["DealSheet"];
type Props = { sheet: Sheet; view: Schema["DealsView"]; mayMove: boolean; onMove: (change: Move) => void };

/** A deal opened beside the lanes: worth, where it stands and why, and moving it without a mouse. */
export function DealWhy({ sheet, view, mayMove, onMove }: Props) {
  const { deal } = sheet;
  const stages = view.pipelines.find((p) => p.key === sheet.pipeline)?.stages ?? [];
  const open = sheet.counts === "open";
  const may = mayMove && open;
  const days = Math.max(0, Math.floor((new Date(view.today).getTime() - new Date(deal.stageSince).getTime()) / 86_400_000));
  return (
    <WhyPane title={deal.name}>
      <Bigs>
        <Big value={<span style={{ font: "inherit", color: "inherit", fontSize: 26 }}>{money(deal.amount, deal.currency)}</span>} caption={`${money((deal.amount * deal.probability) / 100, deal.currency)} weighted`} />
        <Big value={<span style={{ font: "inherit", color: "inherit", fontSize: 26 }}>{deal.probability} %</span>} caption={deal.ownProbability ? `said by hand; ${sheet.stageName} has ${sheet.stageProbability} %` : sheet.stageName} />
      </Bigs>
      {!open && <Closed sheet={sheet} stages={stages} mayMove={mayMove} onMove={onMove} />}
      {deal.late && (
        <Aside style={{ borderColor: "var(--bad)", marginBottom: 12 }}>
          <b>The expected close has passed</b> on {day(deal.expectedClose)}. Move it, or close the deal.
        </Aside>
      )}
      {deal.slow && <Aside style={{ marginBottom: 12 }}>Longer in {sheet.stageName} than is expected there.</Aside>}
      <p style={{ fontSize: 14, marginBottom: 12 }}>
        <Link to={`/deals/contacts/${deal.contactId}`}>{deal.contactName}</Link>
        {deal.accountId && (
          <>
            {" "}
            at <Link to={`/deals/accounts/${deal.accountId}`}>{deal.accountName}</Link>
          </>
        )}
        . {deal.ownerName && `${deal.ownerName} follows it. `}
        {open && `In this stage for ${count(days, "day")}. `}Came through {sheet.sourceName}
        {sheet.campaignName && `, ${sheet.campaignName}`}. {deal.leadId && <Link to={`/leads/${deal.leadId}`}>The lead it was</Link>}
      </p>
      {may && <Mover key={deal.version} sheet={sheet} stages={stages} onMove={onMove} />}
      <div style={{ marginTop: 16 }}>
        <DealSteps sheet={sheet} may={may} />
        <DealPeople sheet={sheet} may={may} />
        <DealProducts sheet={sheet} may={may} />
        <DealCompetitors sheet={sheet} may={may} />
        {sheet.findings.some((f) => f.finding.certainty !== "unknown") && (
          <Fold title="What was found out">
            <Findings questions={sheet.findings} />
          </Fold>
        )}
        <RecordFacts kind="deals" id={deal.id} title="What is wanted" mayWrite={may} />
        <Fold title="Stages so far">
          <ul style={{ paddingLeft: 18, fontSize: 14 }}>
            {sheet.stages.map((s, i) => (
              <li key={i}>
                {s.name}, from {day(s.since)}, {s.until ? `${s.days} days` : `${s.days} days so far`}
                {s.by && <span style={{ color: "var(--soft)" }}>, {s.by}</span>}
              </li>
            ))}
          </ul>
        </Fold>
        {sheet.tags.length > 0 && <p style={{ fontSize: 14, marginTop: 8 }}>Tags: {sheet.tags.join(", ")}</p>}
      </div>
      <h3 style={{ margin: "18px 0 2px" }}>Story</h3>
      <StoryList entries={sheet.story} />
    </WhyPane>
  );
}

// A closed deal is read-only; it is opened again by a stage that is open.
function Closed({ sheet, stages, mayMove, onMove }: { sheet: Sheet; stages: Schema["StageView"][]; mayMove: boolean; onMove: (change: Move) => void }) {
  const why = [sheet.lostReason?.toLowerCase(), sheet.lostTo && `${sheet.lostTo} got it`].filter(Boolean).join(", ");
  return (
    <Aside style={{ borderColor: sheet.counts === "won" ? "var(--good)" : "var(--bad)", marginBottom: 12 }}>
      <b>{sheet.stageName}</b> {sheet.deal.closedAt && `on ${day(sheet.deal.closedAt)}`}
      {why && `: ${why}`}. Read-only now.
      {mayMove && <ChoiceBox label="Open it again in" value={null} options={stages.filter((s) => s.counts === "open").map((s) => ({ key: s.key, label: s.name }))} onChange={(stage) => onMove({ stage })} />}
    </Aside>
  );
}

function Mover({ sheet, stages, onMove }: { sheet: Sheet; stages: Schema["StageView"][]; onMove: (change: Move) => void }) {
  const { deal } = sheet;
  const [closes, setCloses] = useState(deal.expectedClose);
  const [amount, setAmount] = useState(asPlain(deal.amount));
  const [chance, setChance] = useState(deal.ownProbability ? String(deal.probability) : "");
  const changeOf = (worth: number, said: number): Move => ({
    expectedClose: closes && closes !== deal.expectedClose ? closes : undefined,
    amount: amount.trim() !== "" && worth !== deal.amount && worth >= 0 ? worth : undefined,
    probability: said !== (deal.ownProbability ? deal.probability : -1) && said <= 100 ? said : undefined,
  });
  const said = chance.trim() === "" ? -1 : plainNumber(chance);
  const changed = Object.values(changeOf(plainNumber(amount), said)).some((v) => v !== undefined) || Number.isNaN(plainNumber(amount || "0"));
  // What is not written plainly is read by the server first, and asked about where it can mean two things.
  const keep = async () => {
    try {
      onMove(changeOf(await numberOf(amount || "0"), chance.trim() === "" ? -1 : await numberOf(chance)));
    } catch (e) {
      tellError(e);
    }
  };
  return (
    <div style={{ display: "grid", gap: 8, marginTop: 14 }}>
      <ChoiceBox label="Stage" value={deal.stageKey} options={stages.map((s) => ({ key: s.key, label: s.name }))} onChange={(stage) => stage !== deal.stageKey && onMove({ stage })} />
      <div style={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 8 }}>
        <DayBox label="Expected close" value={closes} onChange={setCloses} />
        <NumberText label={`Amount, ${deal.currency}`} value={amount} onChange={setAmount} />
      </div>
      <TextBox label="Probability by hand, %" inputMode="numeric" value={chance} onChange={setChance} hint={`blank: as ${sheet.stageName} has it, ${sheet.stageProbability} %`} error={Number.isNaN(said) || said > 100 ? "a number from 0 to 100" : undefined} />
      {changed && !Number.isNaN(said) && (
        <div>
          <Button onPress={() => void keep()}>Keep</Button>
        </div>
      )}
    </div>
  );
}
