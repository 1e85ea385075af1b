import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { Bench, Head, Inner, Pane } from "../parts/Bench";
import { day, points, whole } from "../parts/format";
import { Skeleton, Trouble } from "../parts/States";
import { small } from "../parts/theme";
import { WhyPane } from "../parts/WhyPane";
import { ScoreMap } from "./ScoreMap";

const Table = styled.table`
  width: 100%;
  border-collapse: collapse;
  margin: 2px 0 24px;
  font-size: 14px;
  td {
    padding: 6px 0;
    border-bottom: 1px solid var(--hair);
  }
  td:last-child,
  td:nth-child(2) {
    text-align: right;
    white-space: nowrap;
    padding-left: 10px;
  }
  button {
    border: 0;
    background: none;
    padding: 0;
    cursor: pointer;
    text-align: left;
  }
  button[aria-pressed="true"] {
    font-weight: 650;
    color: var(--slate);
  }
  small {
    ${small}
  }
`;

const Lines = styled(Table)`
  td:first-child {
    padding-right: 8px;
  }
`;

/** The live model: its criteria and signals, and the map of all open leads. */
export function ScoringPage() {
  const scoring = useQuery({ queryKey: ["scoring"], queryFn: () => must(api.GET("/api/scoring")) });
  const [chosen, setChosen] = useState<string>();
  if (scoring.isPending) return <Skeleton />;
  if (scoring.isError) return <Trouble error={scoring.error} />;
  const model = scoring.data;
  const leads = model.quarters.reduce((s, q) => s + q.leads, 0);
  const over = model.quarters.find((q) => q.move === "hand_over")?.leads ?? 0;
  const criterion = model.fit.find((c) => c.key === chosen) ?? model.fit[0];
  return (
    <Bench>
      <Pane $width={320} aria-label="Model">
        <Inner>
          <p style={{ fontSize: 13, color: "var(--soft)", marginBottom: 12 }}>
            Edition {model.edition}, live since {day(model.publishedAt)}
          </p>
          <h2>Fit</h2>
          <Table>
            <tbody>
              {model.fit.map((c) => (
                <tr key={c.key}>
                  <td>
                    <button type="button" aria-pressed={c === criterion} onClick={() => setChosen(c.key)}>
                      {c.label}
                    </button>
                  </td>
                  <td>
                    <b>
                      {c.least < 0 ? `\u2212${-c.least}` : 0} to {c.most}
                    </b>
                  </td>
                </tr>
              ))}
            </tbody>
          </Table>
          <Signals signals={model.engagement} silence={model.silence} />
        </Inner>
      </Pane>
      <Pane $sheet aria-label="Score map">
        <Inner>
          <Head>
            <div>
              <h1>
                {whole(leads)} open leads, {whole(over)} clear both bars
              </h1>
              <p>
                Fit of {model.bars.fit} or more and engagement of {model.bars.engagement} or more together say hand over.
              </p>
            </div>
          </Head>
          <ScoreMap scoring={model} />
        </Inner>
      </Pane>
      {criterion && <Criterion criterion={criterion} />}
    </Bench>
  );
}

function Signals({ signals, silence }: { signals: Schema["EngagementSignal"][]; silence: Schema["ScoringView"]["silence"] }) {
  return (
    <>
      <h2>Engagement</h2>
      <Table>
        <tbody>
          {signals.map((s) => (
            <tr key={s.kind}>
              <td>{s.label}</td>
              <td>
                <b>{points(s.points)}</b>
              </td>
              <td>
                <small title="days in which the worth halves">{s.halfLifeDays} d</small>
              </td>
            </tr>
          ))}
          {silence && (
            <tr>
              <td>Silent for {silence.days} days</td>
              <td>
                <b>{points(silence.points)}</b>
              </td>
              <td />
            </tr>
          )}
        </tbody>
      </Table>
      <p style={{ fontSize: 13, color: "var(--soft)" }}>Each worth halves in the days beside it.</p>
    </>
  );
}

function Criterion({ criterion }: { criterion: Schema["CriterionView"] }) {
  return (
    <WhyPane title={`What ${criterion.label.toLowerCase()} is worth`}>
      <Lines>
        <tbody>
          {criterion.lines.map((l) => (
            <tr key={l.words}>
              <td>
                {l.words}
                <br />
                <small>{l.when}</small>
              </td>
              <td>
                <b>{points(l.points)}</b>
              </td>
            </tr>
          ))}
        </tbody>
      </Lines>
      <p style={{ fontSize: 13, color: "var(--soft)" }}>The first line that holds counts. While it is not known, none does, and the fit is shown as a range.</p>
      <p style={{ marginTop: 14, fontSize: 14 }}>
        <Link to="/leads?move=hand_over&state=open">Leads to hand over</Link>
      </p>
    </WhyPane>
  );
}
