import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, must, type Schema } from "../api/client";
import { Table } from "../parts/Bench";
import { Button } from "../parts/Button";
import { points, whole } from "../parts/format";
import { Skeleton, ErrorNote } from "../parts/States";
import { put, type Model } from "./model";
import { keys } from "../common/keys";

/** Points with their sign, nothing as 0. */
const signed = (value: number) => (value === 0 ? "0" : points(value));

type Point = Schema["SuggestedPoint"];

type Props = { model: Model; onDraft?: (model: Model) => void; close: () => void };

/** Points that the outcomes speak for, looked at one by one; what is ticked goes into the draft, and nothing else. */
export function Suggestion({ model, onDraft, close }: Props) {
  const suggestion = useQuery({ queryKey: keys.suggestion(model), queryFn: () => must(api.POST("/api/scoring/suggestion", { body: model })), staleTime: 60_000, gcTime: 60_000 });
  const [taken, setTaken] = useState<string[]>([]);
  if (suggestion.isPending) return <Skeleton />;
  if (suggestion.isError) return <ErrorNote error={suggestion.error} />;
  const { refused, points: suggested, outcomes, won, rankNow, rankSuggested } = suggestion.data;
  const back = (
    <Button look="quiet" onPress={close}>
      Back
    </Button>
  );
  if (refused)
    return (
      <>
        <p style={{ marginBottom: 12 }}>{refused.words}</p>
        {back}
      </>
    );
  const toggle = (path: string) => setTaken(taken.includes(path) ? taken.filter((p) => p !== path) : [...taken, path]);
  return (
    <>
      <h3>Points the outcomes speak for</h3>
      <p style={{ color: "var(--soft)", margin: "2px 0 12px", fontSize: 14 }}>
        Learnt from {whole(outcomes)} leads, {whole(won)} of them won, and tried on leads that it had not seen: today’s points put the won one first {Math.round(rankNow * 100)} % of the time, these {Math.round(rankSuggested * 100)} %{rankSuggested <= rankNow ? ", so as a whole they are no better" : ""}. Look at each; tick what
        makes sense to you. The bars stay.
      </p>
      <Table $middle>
        <thead>
          <tr>
            <th />
            <th>For</th>
            <th className="n">now</th>
            <th className="n">suggested</th>
            <th className="n">likely between</th>
            <th>from</th>
          </tr>
        </thead>
        <tbody>
          {suggested.map((p) => (
            <tr key={p.path} style={p.sure ? undefined : { color: "var(--soft)" }}>
              <td>
                <input type="checkbox" aria-label={`Take ${points(p.suggested)} for ${p.label} ${p.words}`} checked={taken.includes(p.path)} disabled={p.suggested === p.now} onChange={() => toggle(p.path)} />
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
            </tr>
          ))}
        </tbody>
      </Table>
      <div style={{ display: "flex", gap: 12, marginTop: 14 }}>
        <Button
          look="main"
          isDisabled={taken.length === 0}
          onPress={() => {
            onDraft?.(applied(model, suggested.filter((p) => taken.includes(p.path))));
            close();
          }}
        >
          Put {taken.length} into the draft
        </Button>
        <Button onPress={() => setTaken(suggested.filter((p) => p.sure && p.suggested !== p.now).map((p) => p.path))}>Tick what is sure</Button>
        {back}
      </div>
    </>
  );
}

/** The model with the points of these lines and signals; nothing else of it changes. */
export function applied(model: Model, chosen: readonly Point[]): Model {
  return chosen.reduce((m, p) => {
    const [kind, at, , line] = p.path.split("/");
    const i = Number(at);
    if (kind === "engagement") return { ...m, engagement: put(m.engagement, i, { ...m.engagement[i]!, points: p.suggested }) };
    const criterion = m.fit[i]!;
    const l = Number(line);
    return { ...m, fit: put(m.fit, i, { ...criterion, lines: put(criterion.lines, l, { ...criterion.lines[l]!, points: p.suggested }) }) };
  }, model);
}
