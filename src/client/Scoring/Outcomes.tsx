import { useState } from "react";
import styled from "styled-components";
import type { Schema } from "../api/client";
import { Button } from "../parts/Button";
import { percent, whole } from "../parts/format";
import { Columns } from "../parts/Layout";
import { Empty, ErrorNote, Skeleton } from "../parts/States";
import { BandOutcomes } from "./BandOutcomes";
import type { Model } from "./model";
import { CalibrationPicture, RankPicture } from "./OutcomePictures";
import { useOutcomes } from "./queries";
import { Suggestion } from "./Suggestion";
import { Worths } from "./Worths";

const Lead = styled.p`
  margin-bottom: 18px;
`;

const Two = styled(Columns)`
  column-gap: 32px;
  margin-bottom: 26px;
  p {
    font-size: 14px;
    color: var(--soft);
    margin: 2px 0 8px;
  }
`;

type Report = Schema["OutcomeReport"];

type Props = {
  /** The draft; the live model where there is none. */
  model?: Model;
  live: Model;
  onDraft?: (model: Model) => void;
};

/** The model held against what became of leads: which bands were won, how well it ranks, and what each part of it is worth. */
export function Outcomes({ model, live, onDraft }: Props) {
  const outcomes = useOutcomes(model);
  const [suggesting, setSuggesting] = useState(false);
  if (outcomes.isPending) return <Skeleton />;
  if (outcomes.isError) return <ErrorNote error={outcomes.error} />;
  const report = outcomes.data;
  if (report.all.count === 0) return <Empty>Once deals are won or lost and leads disqualified, the model is held against that here.</Empty>;
  if (suggesting) return <Suggestion model={model ?? live} onDraft={onDraft} close={() => setSuggesting(false)} />;
  return (
    <>
      <Lead>
        {told(report)}{" "}
        {onDraft && (
          <Button look="inline" onPress={() => setSuggesting(true)}>
            Suggest points
          </Button>
        )}
      </Lead>
      <Sections report={report} />
      <h2>What each part is worth</h2>
      <Worths report={report} />
    </>
  );
}

function told(report: Report) {
  const over = report.quarters.find((q) => q.key === "hand_over")!;
  const cleared = over.share.count > 0 ? ` Of those who had cleared both bars ${percent(over.share.rate)} were, ${over.lift.toFixed(1)} times as many as of all.` : "";
  return `Of ${whole(report.all.count)} leads decided within two years, ${whole(report.all.won)} were won.${cleared} Each is judged by what was known before it was decided.`;
}

function Sections({ report }: { report: Report }) {
  return (
    <Two $of="1fr 1fr" $gap={6}>
      <section>
        <h2>Won by fit</h2>
        <p>{trend(report.fitRank)}</p>
        <BandOutcomes bands={report.fit} name="fit" />
      </section>
      <section>
        <h2>Won by engagement</h2>
        <p>{trend(report.engagementRank)}</p>
        <BandOutcomes bands={report.engagement} name="engagement" />
      </section>
      <section>
        <h2>How well it ranks</h2>
        <p>
          Of one won and one lost, both scores together put the won one first {percent(report.both.area)} of the time ({percent(report.both.low)} to {percent(report.both.high)}).
        </p>
        <RankPicture curves={[{ name: "both", curve: report.both }, { name: "fit", curve: report.fitRank }, { name: "engagement", curve: report.engagementRank }]} />
      </section>
      <section>
        <h2>Whether chances come true</h2>
        <p>Leads foretold by others than themselves: what was promised across, what came up.</p>
        <CalibrationPicture points={report.calibration} />
      </section>
    </Two>
  );
}

function trend(rank: Schema["RankCurve"]) {
  if (rank.low > 0.5) return `The higher, the more often won: right ${percent(rank.area)} of the time.`;
  if (rank.high < 0.5) return `The higher, the less often won: it ranks the wrong way round.`;
  return "No difference that could not be chance.";
}
