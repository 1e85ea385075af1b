import styled from "styled-components";
import type { Schema } from "../api/client";
import { day } from "../parts/format";
import { small } from "../parts/theme";

const Grid = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(150px, 1fr));
  gap: 10px 18px;
  margin: 8px 0 8px;
  font-size: 14px;
  small {
    ${small}
    display: block;
  }
`;

/** How sure an answer is, as a sign: an empty, half or full circle. */
export const signs: Record<string, string> = { unknown: "○", weak: "◐", confirmed: "●" };

/** What was found out, question by question; shown where a lead or its deal is. */
export function Findings({ questions }: { questions: Schema["QuestionView"][] }) {
  return (
    <Grid>
      {questions.map(({ key, label, finding }) => (
        <div key={key}>
          <span aria-hidden>{signs[finding.certainty]}</span> {label} {finding.certainty}
          <small>{finding.evidence}</small>
          {(finding.saidBy || finding.saidOn) && <small>{["said", finding.saidBy && `by ${finding.saidBy}`, finding.saidOn && `on ${day(finding.saidOn)}`].filter(Boolean).join(" ")}</small>}
        </div>
      ))}
    </Grid>
  );
}
