import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, must, type Schema } from "../api/client";
import { keys } from "../common/keys";
import { Button } from "../parts/Button";
import { DataTable, FadedRow } from "../parts/DataTable";
import { points, whole } from "../parts/format";
import { Row } from "../parts/Layout";
import { ErrorNote, Skeleton } from "../parts/States";
import { Hint, Text } from "../parts/Words";
import type { Model } from "./model";
import { applied } from "./suggested";

/** Points with their sign, nothing as 0. */
const signed = (value: number) => (value === 0 ? "0" : points(value));

type Suggested = Schema["PointSuggestion"];
type Point = Schema["SuggestedPoint"];
type Props = { model: Model; onDraft?: (model: Model) => void; close: () => void };

/** Points that the outcomes speak for, looked at one by one; what is ticked goes into the draft, and nothing else. */
export function Suggestion({ model, onDraft, close }: Props) {
  const suggestion = useQuery({ queryKey: keys.suggestion(model), queryFn: () => must(api.POST("/api/scoring/suggestion", { body: model })), staleTime: 60_000, gcTime: 60_000 });
  if (suggestion.isPending) return <Skeleton />;
  if (suggestion.isError) return <ErrorNote error={suggestion.error} />;
  if (suggestion.data.refused)
    return (
      <>
        <Text $below={3}>{suggestion.data.refused.words}</Text>
        <Button look="quiet" onPress={close}>
          Back
        </Button>
      </>
    );
  const take = (chosen: Point[]) => {
    onDraft?.(applied(model, chosen));
    close();
  };
  return <Choosing suggested={suggestion.data} onTake={take} onLeave={close} />;
}

const numeric = (label: string) => ({ label, isNumber: true });
const head = [{ label: "Take it", isUnseen: true }, "For", ...["now", "suggested", "likely between"].map(numeric), "from"];

function Choosing({ suggested, onTake, onLeave }: { suggested: Suggested; onTake: (chosen: Point[]) => void; onLeave: () => void }) {
  const [taken, setTaken] = useState<string[]>([]);
  const toggle = (path: string) => setTaken(taken.includes(path) ? taken.filter((p) => p !== path) : [...taken, path]);
  const { outcomes, won, rankNow, rankSuggested } = suggested;
  return (
    <>
      <h3>Points the outcomes speak for</h3>
      <Hint $above={1} $below={3}>
        Learnt from {whole(outcomes)} leads, {whole(won)} of them won, and tried on leads that it had not seen: today’s points put the won one first {Math.round(rankNow * 100)} % of the time, these {Math.round(rankSuggested * 100)} %{rankSuggested <= rankNow ? ", so as a whole they are no better" : ""}. Look at each; tick what
        makes sense to you. The bars stay.
      </Hint>
      <DataTable label="Suggested points" head={head} hasButtons>
        {suggested.points.map((p) => (
          <Line key={p.path} point={p} isTaken={taken.includes(p.path)} onToggle={() => toggle(p.path)} />
        ))}
      </DataTable>
      <Row $gap={3} $above={3}>
        <Button look="main" isDisabled={taken.length === 0} onPress={() => onTake(suggested.points.filter((p) => taken.includes(p.path)))}>
          Put {taken.length} into the draft
        </Button>
        <Button onPress={() => setTaken(suggested.points.filter((p) => p.sure && p.suggested !== p.now).map((p) => p.path))}>Tick what is sure</Button>
        <Button look="quiet" onPress={onLeave}>
          Back
        </Button>
      </Row>
    </>
  );
}

function Line({ point: p, isTaken, onToggle }: { point: Point; isTaken: boolean; onToggle: () => void }) {
  return (
    <FadedRow $faded={!p.sure}>
      <td>
        <input type="checkbox" aria-label={`Take ${points(p.suggested)} for ${p.label} ${p.words}`} checked={isTaken} disabled={p.suggested === p.now} onChange={onToggle} />
      </td>
      <td>
        {p.label}
        {p.words && `: ${p.words}`}
      </td>
      <td className="n">{signed(p.now)}</td>
      <td className="n">
        <b>{signed(p.suggested)}</b>
      </td>
      <td className="n">
        {signed(p.low)} to {signed(p.high)}
      </td>
      <td>
        {p.won} of {p.count}
        {p.sure ? "" : ", not sure"}
      </td>
    </FadedRow>
  );
}
