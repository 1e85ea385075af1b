import { useState } from "react";
import styled from "styled-components";
import type { Schema } from "../api/client";
import { Table } from "../parts/Bench";
import { Button } from "../parts/Button";
import { points, whole } from "../parts/format";
import { Empty, Skeleton, ErrorNote } from "../parts/States";
import { small } from "../parts/theme";
import { RankPicture, CalibrationPicture } from "./OutcomePictures";
import type { Model } from "./model";
import { useOutcomes } from "./queries";
import { Said } from "../parts/Said";
import { Suggestion } from "./Suggestion";

const percent = (share: number) => `${Math.round(share * 100)} %`;

const Two = styled.div`
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 24px 32px;
  margin-bottom: 26px;
  p {
    font-size: 14px;
    color: var(--soft);
    margin: 2px 0 8px;
  }
`;

const Bands = styled.div`
  display: grid;
  grid-template-columns: auto 1fr auto;
  gap: 3px 10px;
  align-items: center;
  font-size: 13px;
  small {
    ${small}
    white-space: nowrap;
  }
  .bar {
    position: relative;
    height: 14px;
  }
  .bar i {
    position: absolute;
    left: 0;
    top: 3px;
    height: 8px;
    background: var(--slate);
    border-radius: 1px;
  }
  .bar u {
    position: absolute;
    top: 6px;
    height: 2px;
    background: var(--lamp);
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
  const over = report.quarters.find((q) => q.key === "hand_over")!;
  return (
    <>
      <p style={{ marginBottom: 18 }}>
        Of {whole(report.all.count)} leads decided within two years, {whole(report.all.won)} were won. {over.share.count > 0 && `Of those who had cleared both bars ${percent(over.share.rate)} were, ${over.lift.toFixed(1)} times as many as of all.`}{" "}
        Each is judged by what was known before it was decided.{" "}
        {onDraft && (
          <Button look="quiet" style={{ padding: 0, minHeight: 0 }} onPress={() => setSuggesting(true)}>
            Suggest points
          </Button>
        )}
      </p>
      <Two>
        <section>
          <h3>Won by fit</h3>
          <p>{trend(report.fitRank)}</p>
          <ByBand bands={report.fit} name="fit" />
        </section>
        <section>
          <h3>Won by engagement</h3>
          <p>{trend(report.engagementRank)}</p>
          <ByBand bands={report.engagement} name="engagement" />
        </section>
        <section>
          <h3>How well it ranks</h3>
          <p>
            Of one won and one lost, both scores together put the won one first {percent(report.both.area)} of the time ({percent(report.both.low)} to {percent(report.both.high)}).
          </p>
          <RankPicture curves={[{ name: "both", curve: report.both }, { name: "fit", curve: report.fitRank }, { name: "engagement", curve: report.engagementRank }]} />
        </section>
        <section>
          <h3>Whether chances come true</h3>
          <p>Leads foretold by others than themselves: what was promised across, what came up.</p>
          <CalibrationPicture points={report.calibration} />
        </section>
      </Two>
      <h3>What each part is worth</h3>
      <Worths report={report} />
    </>
  );
}

const trend = (rank: Schema["RankCurve"]) => {
  if (rank.low > 0.5) return `The higher, the more often won: right ${percent(rank.area)} of the time.`;
  if (rank.high < 0.5) return `The higher, the less often won: it ranks the wrong way round.`;
  return "No difference that could not be chance.";
};

function ByBand({ bands, name }: { bands: readonly Schema["BandOutcome"][]; name: string }) {
  const most = Math.max(0.1, ...bands.filter((b) => b.share.count > 0).map((b) => b.share.high));
  const shown = bands.filter((b) => b.share.count > 0).toReversed();
  return (
    <Bands role="list" aria-label={`Won by ${name}`}>
      {shown.map((b) => (
        <Row key={b.from} words={`${b.from} to ${b.from + (b.from === 90 ? 10 : 9)}`} share={b.share} most={most} />
      ))}
    </Bands>
  );
}

function Row({ words, share, most }: { words: string; share: Schema["Share"]; most: number }) {
  const at = (rate: number) => `${(rate / most) * 100}%`;
  return (
    <div role="listitem" style={{ display: "contents" }} title={`${share.won} of ${share.count}, likely ${percent(share.low)} to ${percent(share.high)}`}>
      <small>{words}</small>
      <span className="bar">
        <i style={{ width: at(share.rate) }} />
        <u style={{ left: at(share.low), width: at(share.high - share.low) }} />
      </span>
      <small>
        {percent(share.rate)} of {share.count}
      </small>
    </div>
  );
}

const verdicts: Record<Schema["LineVerdict"], string> = { tells: "tells", nothing: "tells nothing", opposite: "the opposite", unsure: "too few to say" };

function Worths({ report }: { report: Report }) {
  const rows = [
    ...report.criteria.map((c) => ({ key: `f${c.key}`, label: c.label, pull: c.pull, verdict: c.verdict, note: `information ${c.information.toFixed(2)}` })),
    ...report.signals.map((s, i) => ({ key: `s${i}`, label: s.label, pull: s.pull, verdict: s.verdict, note: s.share.count > 0 ? `won ${s.share.won} of ${s.share.count}` : "nobody had it" })),
  ];
  return (
    <>
      <Table>
        <thead>
          <tr>
            <th>Criterion or signal</th>
            <th className="n">points, won over lost</th>
            <th>says</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {rows.map((r) => (
            <tr key={r.key}>
              <td>{r.label}</td>
              <td className="n">{points(r.pull, 1)}</td>
              <td style={r.verdict === "opposite" ? { color: "var(--bad)", fontWeight: 600 } : undefined}>{verdicts[r.verdict]}</td>
              <td style={{ color: "var(--soft)", fontSize: 13 }}>{r.note}</td>
            </tr>
          ))}
        </tbody>
      </Table>
      {report.warnings.length > 0 && (
        <details style={{ marginTop: 16, fontSize: 14 }}>
          <summary>{report.warnings.length === 1 ? "One thing" : `${report.warnings.length} things`} to be careful with</summary>
          <Said findings={report.warnings.map((w) => ({ ...w, words: `${nameOf(report, w.problem.path)}: ${w.words}` }))} />
        </details>
      )}
    </>
  );
}

/** What a path of the model is called. */
function nameOf(report: Report, path: string) {
  const [kind, at, , line] = path.split("/");
  if (kind === "engagement") return report.signals[Number(at)]?.label ?? path;
  const criterion = report.criteria[Number(at)];
  return line === undefined ? criterion?.label ?? path : `${criterion?.label}, ${criterion?.lines[Number(line)]?.words}`;
}
