import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, must, type Schema } from "../api/client";
import { DataTable } from "../parts/DataTable";
import { ChoiceBox } from "../parts/Field";
import { count, left, whole } from "../parts/format";
import { Block } from "../parts/Layout";
import { Skeleton, ErrorNote } from "../parts/States";
import { keys } from "../common/keys";
import { Hint } from "../parts/Words";

const spans = [30, 90, 365];

/** How soon leads are answered, in the working hours of their owners. */
export function Answers() {
  const [days, setDays] = useState(90);
  const answers = useQuery({ queryKey: keys.answers(days), queryFn: () => must(api.GET("/api/routing/answers", { params: { query: { days } } })) });
  if (answers.isPending) return <Skeleton />;
  if (answers.isError) return <ErrorNote error={answers.error} />;
  const { all, reps, teams, sources } = answers.data;
  return (
    <>
      <h1>{all.kept == null ? "Nobody had to answer yet" : `${Math.round(all.kept * 100)} in 100 were answered in time`}</h1>
      <Hint $above={1} $below={3}>
        {count(all.leads, "lead")} given in {days} days. {all.median != null && all.ninetiethPercentile != null && `Half were answered within ${left(all.median)} of work, nine in ten within ${left(all.ninetiethPercentile)}.`}
      </Hint>
      <Block $width={180}>
        <ChoiceBox label="Given in the last" value={String(days)} options={spans.map((d) => ({ key: String(d), label: `${d} days` }))} onChange={(d) => setDays(Number(d))} />
      </Block>
      <Lines title="By person" lines={reps} days={days} by="owner" />
      <Lines title="By team" lines={teams} days={days} />
      <Lines title="By source" lines={sources} days={days} by="source" />
    </>
  );
}

const head = ["Name", ...["Given", "Answered", "In time", "Half within", "Nine in ten within"].map((label) => ({ label, isNumber: true }))];

type Props = { title: string; lines: readonly Schema["AnswerLine"][]; days: number; by?: "owner" | "source" };

function Lines({ title, lines, days, by }: Props) {
  return (
    <Block as="section" aria-label={title} $above={5}>
      <h2>{title}</h2>
      <DataTable label={title} head={head}>
          {lines.map(({ key, name, times }) => (
            <tr key={key}>
              <td>{by ? <Link to={`/leads?state=any&days=${days}&${by}=${key}`}>{name}</Link> : name}</td>
              <td className="n">{whole(times.leads)}</td>
              <td className="n">{whole(times.answered)}</td>
              <td className="n">{times.kept == null ? "" : `${Math.round(times.kept * 100)} in 100`}</td>
              <td className="n">{times.median == null ? "" : left(times.median)}</td>
              <td className="n">{times.ninetiethPercentile == null ? "" : left(times.ninetiethPercentile)}</td>
            </tr>
          ))}
      </DataTable>
    </Block>
  );
}
