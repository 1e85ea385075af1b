import styled from "styled-components";
import { count as counted } from "../parts/format";
import { WhyPane } from "../parts/WhyPane";
import { Hint, Subtitle, Text } from "../parts/Words";
import { count, type Choices, type Sheet } from "./landing";

const Marked = styled.ul`
  padding-left: 18px;
  font-size: 14px;
`;

/** The count of what arrives, and what goes along beside the facts. */
export function Carried({ sheet, choices, along }: { sheet: Sheet; choices: Choices; along: number }) {
  const { goesAlong: g } = sheet;
  const { known, carried, dropped, stays } = count(sheet.lines, choices);
  const things = [
    g.story && `${counted(g.story, "line")} of the story, with all notes and calls`,
    g.tasks && counted(g.tasks, "open task"),
    g.events && `${counted(g.events, "event")} that engagement counts`,
    g.findings && `${counted(g.findings, "answer")} of qualifying`,
    g.tags && counted(g.tags, "tag"),
    g.campaigns && counted(g.campaigns, "campaign"),
    g.consents && counted(g.consents, "consent"),
    g.meetings && counted(g.meetings, "meeting"),
    g.files && counted(g.files, "file"),
    along && `${counted(along, "further lead")}, each with all of theirs`,
  ].filter(Boolean);
  return (
    <WhyPane title={`${carried} of ${known} carried`}>
      <Text>
        {carried === known ? "Every known fact has its place, and none contradicts what is there." : "Every known fact has its place or is left by your choice."}
        {stays > 0 && ` ${stays} ${stays === 1 ? "differs" : "differ"} from what is there; that stays unless you say otherwise.`}
        {dropped > 0 && ` ${dropped} left behind on purpose.`} What is not carried stays readable on the lead.
      </Text>
      <Subtitle $above={4} $below={1}>
        Goes along
      </Subtitle>
      <Marked>
        {things.map((t) => (
          <li key={String(t)}>{t}</li>
        ))}
      </Marked>
      <Hint $above={3}>Afterwards the lead is read-only and points to what it became. A wrong handover can be taken back; where somebody worked with it since, you are told what was done.</Hint>
    </WhyPane>
  );
}
