import styled from "styled-components";
import { Button } from "../parts/Button";
import { day } from "../parts/format";
import { small } from "../parts/theme";
import { Big, Bigs, Evidence, WhyPane } from "../parts/WhyPane";
import { EngagementCurve } from "./EngagementCurve";
import type { Sheet } from "./queries";
import { RoutingWhy } from "./RoutingWhy";

const Title = styled.h3`
  margin: 4px 0 2px;
`;

const Note = styled.p`
  ${small}
  margin: -8px 0 16px;
`;

// By its next move, since a bar that was cleared stays so a little below it.
function headline({ nextMove }: Sheet["score"]) {
  const [f, e] = [nextMove === "hand_over" || nextMove === "nurture", nextMove === "hand_over" || nextMove === "check"];
  if (f && e) return "Both bars are cleared";
  if (f) return "The fit is there, the engagement not yet";
  if (e) return "Engaged, but does it fit?";
  return "Neither bar is cleared";
}

/** The reasons of a lead's scores and of its owner. */
export function LeadWhy({ lead, onAsk }: { lead: Sheet; onAsk: () => void }) {
  const { score } = lead;
  const question = score.unknown[0];
  return (
    <WhyPane title={headline(score)}>
      <Bigs>
        <Big value={score.fit} caption={`fit, bar at ${score.bars.fit}`} />
        <Big value={score.engagement} caption={`engagement, bar at ${score.bars.engagement}`} warm />
      </Bigs>
      <Title>Fit</Title>
      {score.fitReasons.length === 0 && <Note style={{ marginTop: 4 }}>Nothing is known yet that would say.</Note>}
      <Evidence items={score.fitReasons} sum={score.fitReasons.length > 1 ? "fit" : undefined} />
      {score.unknown.length > 0 && (
        <Note>
          Not known: {score.unknown.map((u) => u.label.toLowerCase()).join(", ")}. Fit could be {score.fitLow} to {score.fitHigh}.{" "}
          {question && lead.state !== "handed_over" && (
            <Button look="quiet" onPress={onAsk} style={{ minHeight: 0, padding: 0, fontSize: 13 }}>
              Ask for {question.label.toLowerCase()} first
            </Button>
          )}
        </Note>
      )}
      {score.openVetoes.length > 0 && <Note>Would rule them out if it holds: {score.openVetoes.join("; ").toLowerCase()}.</Note>}
      <Title>Engagement</Title>
      {score.engagementReasons.length === 0 && <Note style={{ marginTop: 4 }}>Nothing that still weighs.</Note>}
      <Evidence items={score.engagementReasons} warm sum={score.engagementReasons.length > 1 ? "engagement" : undefined} />
      {score.curve.some((c) => c.engagement > 0) && score.curve.length > 1 && <EngagementCurve curve={score.curve} bar={score.bars.engagement} />}
      {score.dropsUnderBar && <Note>Without another touch, engagement drops under the bar on {day(score.dropsUnderBar)}.</Note>}
      {score.wouldClear.length > 0 && (
        <Note>
          One of these would clear the bar: {score.wouldClear.map((w) => w.toLowerCase()).join(", ")}.
        </Note>
      )}
      <RoutingWhy lead={lead} />
    </WhyPane>
  );
}
