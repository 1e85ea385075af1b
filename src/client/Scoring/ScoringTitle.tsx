import styled from "styled-components";
import type { Schema } from "../api/client";
import { count, whole } from "../parts/format";
import type { Trial } from "./model";
import type { Draft } from "./useDraft";

/* Of one height whatever it says: what is under it must not move away from under a hand when the scoring ends. */
const Told = styled.p`
  min-height: 1.5em;
`;

type Props = { scoring: Schema["ScoringView"]; draft: Draft; trial?: Trial; outcomes?: Schema["OutcomeReport"] };

const readyIn = (quarters: readonly Schema["QuarterCount"][]) => quarters.find((q) => q.move === "hand_over")?.leads ?? 0;

// Of those won, the share in 100 that had cleared both bars.
const wonReady = (outcomes?: Schema["OutcomeReport"]) => (outcomes && outcomes.all.won > 0 ? Math.round((100 * (outcomes.quarters.find((q) => q.key === "hand_over")?.share.won ?? 0)) / outcomes.all.won) : undefined);

/** How many leads clear both bars, now or by the draft, and what came of such leads. */
export function ScoringTitle({ scoring, draft, trial, outcomes }: Props) {
  const leads = scoring.quarters.reduce((s, q) => s + q.leads, 0);
  const now = readyIn(scoring.quarters);
  const done = draft.model && trial && trial.done >= trial.leads && trial.leads > 0;
  const over = done ? readyIn(trial.quarters) : now;
  const won = wonReady(outcomes);
  const run = scoring.run && !scoring.run.endedAt ? scoring.run : undefined;
  const running = run && (run.trouble ?? `Scoring all leads by edition ${scoring.edition}: ${whole(run.done)} of ${count(run.leads, "lead")}.`);
  return (
    <div>
      <h1>
        {whole(leads)} open leads, {whole(over)} clear both bars
      </h1>
      <Told>
        <span role="status">{running && `${running} `}</span>
        {done && over !== now && `${whole(Math.abs(over - now))} ${over > now ? "more" : "fewer"} than now. `}
        {!running && won !== undefined && `Of those won in two years, ${won} in 100 had cleared them.`}
      </Told>
    </div>
  );
}
