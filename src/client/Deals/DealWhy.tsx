import { Link } from "react-router";
import styled from "styled-components";
import type { Schema } from "../api/client";
import { Findings } from "../Leads/Findings";
import { StoryList } from "../Leads/Story";
import { Aside } from "../parts/Bench";
import { Big, Bigs } from "../parts/Evidence";
import { ChoiceBox } from "../parts/Field";
import { Fold } from "../parts/Fold";
import { count, day, money } from "../parts/format";
import { Block } from "../parts/Layout";
import { WhyPane } from "../parts/WhyPane";
import { Quiet, Subtitle, Text } from "../parts/Words";
import { DealCompetitors } from "./DealCompetitors";
import { DealMover } from "./DealMover";
import { DealPeople } from "./DealPeople";
import { DealProducts } from "./DealProducts";
import { DealSteps } from "./DealSteps";
import type { Move } from "./moving";
import { RecordFacts } from "./RecordFacts";

const Worth = styled(Bigs)`
  b {
    font-size: 26px;
  }
`;

const Marked = styled.ul`
  padding-left: 18px;
  font-size: 14px;
`;

type Sheet = Schema["DealSheet"];
type Stage = Schema["StageView"];
type Props = { sheet: Sheet; view: Schema["DealsView"]; mayMove: boolean; onMove: (change: Move) => void };

/** A deal opened beside the lanes: worth, where it stands and why, and moving it without a mouse. */
export function DealWhy({ sheet, view, mayMove, onMove }: Props) {
  const { deal } = sheet;
  const stages = view.pipelines.find((p) => p.key === sheet.pipeline)?.stages ?? [];
  const open = sheet.counts === "open";
  const may = mayMove && open;
  return (
    <WhyPane title={deal.name}>
      <Worth>
        <Big value={money(deal.amount, deal.currency)} caption={`${money((deal.amount * deal.probability) / 100, deal.currency)} weighted`} />
        <Big value={`${deal.probability} %`} caption={deal.ownProbability ? `said by hand; ${sheet.stageName} has ${sheet.stageProbability} %` : sheet.stageName} />
      </Worth>
      {!open && <Closed sheet={sheet} stages={stages} mayMove={mayMove} onMove={onMove} />}
      <Warnings sheet={sheet} />
      <About sheet={sheet} today={view.today} />
      {may && <DealMover key={deal.version} sheet={sheet} stages={stages} onMove={onMove} />}
      <Block $above={4}>
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
        <StagesSoFar sheet={sheet} />
        {sheet.tags.length > 0 && <Text $above={2}>Tags: {sheet.tags.join(", ")}</Text>}
      </Block>
      <Subtitle $above={4}>Story</Subtitle>
      <StoryList entries={sheet.story} />
    </WhyPane>
  );
}

function Warnings({ sheet: { deal, stageName } }: { sheet: Sheet }) {
  return (
    <>
      {deal.late && (
        <Block $below={3}>
          <Aside $colour="bad">
            <b>The expected close has passed</b> on {day(deal.expectedClose)}. Move it, or close the deal.
          </Aside>
        </Block>
      )}
      {deal.slow && (
        <Block $below={3}>
          <Aside>Longer in {stageName} than is expected there.</Aside>
        </Block>
      )}
    </>
  );
}

const dayMs = 86_400_000;

function About({ sheet, today }: { sheet: Sheet; today: string }) {
  const { deal } = sheet;
  const days = Math.max(0, Math.floor((new Date(today).getTime() - new Date(deal.stageSince).getTime()) / dayMs));
  return (
    <Text $below={3}>
      <Link to={`/deals/contacts/${deal.contactId}`}>{deal.contactName}</Link>
      {deal.accountId && (
        <>
          {" "}
          at <Link to={`/deals/accounts/${deal.accountId}`}>{deal.accountName}</Link>
        </>
      )}
      . {deal.ownerName && `${deal.ownerName} follows it. `}
      {sheet.counts === "open" && `In this stage for ${count(days, "day")}. `}Came through {sheet.sourceName}
      {sheet.campaignName && `, ${sheet.campaignName}`}. {deal.leadId && <Link to={`/leads/${deal.leadId}`}>The lead it was</Link>}
    </Text>
  );
}

const StagesSoFar = ({ sheet }: { sheet: Sheet }) => (
  <Fold title="Stages so far">
    <Marked>
      {sheet.stages.map((s, i) => (
        <li key={i}>
          {s.name}, from {day(s.since)}, {s.until ? `${s.days} days` : `${s.days} days so far`}
          {s.by && <Quiet>, {s.by}</Quiet>}
        </li>
      ))}
    </Marked>
  </Fold>
);

// A closed deal is read-only; it is opened again by a stage that is open.
function Closed({ sheet, stages, mayMove, onMove }: { sheet: Sheet; stages: Stage[]; mayMove: boolean; onMove: (change: Move) => void }) {
  const why = [sheet.lostReason?.toLowerCase(), sheet.lostTo && `${sheet.lostTo} got it`].filter(Boolean).join(", ");
  return (
    <Block $below={3}>
      <Aside $colour={sheet.counts === "won" ? "good" : "bad"}>
        <b>{sheet.stageName}</b> {sheet.deal.closedAt && `on ${day(sheet.deal.closedAt)}`}
        {why && `: ${why}`}. Read-only now.
        {mayMove && <ChoiceBox label="Open it again in" value={null} options={stages.filter((s) => s.counts === "open").map((s) => ({ key: s.key, label: s.name }))} onChange={(stage) => onMove({ stage })} />}
      </Aside>
    </Block>
  );
}
