import { Button } from "../parts/Button";
import { Big, Bigs, Evidence } from "../parts/Evidence";
import { day } from "../parts/format";
import { WhyPane } from "../parts/WhyPane";
import { Hint, Subtitle } from "../parts/Words";
import { EngagementCurve } from "./EngagementCurve";
import { Facts } from "./Facts";
import type { Sheet } from "./queries";
import { RoutingWhy } from "./RoutingWhy";

type Props = { lead: Sheet; ask: number; onAsk: () => void };

/** The reasons of a lead's scores and of its owner; behind a tab its facts. */
export function LeadWhy({ lead, ask, onAsk }: Props) {
  const { score } = lead;
  return (
    <WhyPane title={score.headline} facts={<Facts lead={lead} ask={ask} />} ask={ask}>
      <Bigs>
        <Big value={score.fit} caption={`fit, bar at ${score.bars.fit}`} />
        <Big value={score.engagement} caption={`engagement, bar at ${score.bars.engagement}`} warm />
      </Bigs>
      <Fit lead={lead} onAsk={onAsk} />
      <Engagement score={score} />
      <RoutingWhy lead={lead} />
    </WhyPane>
  );
}

function Fit({ lead, onAsk }: { lead: Sheet; onAsk: () => void }) {
  const { score } = lead;
  const question = score.unknown[0];
  return (
    <>
      <Subtitle $above={1}>Fit</Subtitle>
      {score.fitReasons.length === 0 && <Hint $below={3}>Nothing is known yet that would say.</Hint>}
      <Evidence items={score.fitReasons} sum={score.fitReasons.length > 1 ? "fit" : undefined} />
      {score.unknown.length > 0 && (
        <Hint $below={4}>
          Not known: {score.unknown.map((u) => u.label.toLowerCase()).join(", ")}. Fit could be {score.fitLow} to {score.fitHigh}.{" "}
          {question && !lead.became && (
            <Button look="inline" onPress={onAsk}>
              Ask for {question.label.toLowerCase()} first
            </Button>
          )}
        </Hint>
      )}
      {score.openVetoes.length > 0 && <Hint $below={4}>Would rule them out if it holds: {score.openVetoes.join("; ").toLowerCase()}.</Hint>}
    </>
  );
}

function Engagement({ score }: { score: Sheet["score"] }) {
  return (
    <>
      <Subtitle $above={1}>Engagement</Subtitle>
      {score.engagementReasons.length === 0 && <Hint $below={3}>Nothing that still weighs.</Hint>}
      <Evidence items={score.engagementReasons} warm sum={score.engagementReasons.length > 1 ? "engagement" : undefined} />
      {score.curve.some((c) => c.engagement > 0) && score.curve.length > 1 && <EngagementCurve curve={score.curve} bar={score.bars.engagement} />}
      {score.dropsUnderBar && <Hint $below={4}>Without another touch, engagement drops under the bar on {day(score.dropsUnderBar)}.</Hint>}
      {score.wouldClear.length > 0 && <Hint $below={4}>One of these would clear the bar: {score.wouldClear.map((w) => w.toLowerCase()).join(", ")}.</Hint>}
    </>
  );
}
