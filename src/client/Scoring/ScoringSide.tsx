import { useQuery } from "@tanstack/react-query";
import { api, must, type Schema } from "../api/client";
import { ChosenPane, type ChosenPart } from "../common/ChosenPane";
import { useFields } from "../common/fields";
import { keys } from "../common/keys";
import { Stack } from "../parts/Layout";
import { WhyPane } from "../parts/WhyPane";
import { Text } from "../parts/Words";
import { AroundEditor } from "./AroundEditor";
import { CriterionEditor } from "./CriterionEditor";
import { DraftChanges } from "./DraftChanges";
import type { Chosen, Finding, Model, Trial } from "./model";
import { SignalEditor } from "./SignalEditor";
import type { Draft } from "./useDraft";

type Props = {
  scoring: Schema["ScoringView"];
  model: Model;
  draft: Draft;
  trial?: Trial;
  /** The number the draft would have as an edition. */
  next: number;
  chosen: Chosen;
  onChoose: (chosen: Chosen) => void;
  findings: readonly Finding[];
  outcomes?: Schema["OutcomeReport"];
  onChange?: (model: Model) => void;
};

// A score cannot ask itself.
const ofScores = ["fit", "engagement", "next_move"];

/** At the right of the model: what is chosen of it, what the draft would change, or how it is read. */
export function ScoringSide(props: Props) {
  const { model, draft, trial, next, onChoose, onChange } = props;
  return (
    <ChosenPane chosen={useChosen(props)} onClose={() => onChoose(null)} draft={draft.model && <DraftChanges draft={draft} model={model} trial={trial} next={next} />}>
      <WhyPane title="How it is read">
        <Stack>
          <Text>Fit asks what kind of customer they are; each answer gives points, up to 100. Engagement asks what they did lately; each activity gives points that halve with time.</Text>
          <Text>
            Fit of {model.bars.fit} and engagement of {model.bars.engagement} together say {model.names.handOver.toLowerCase()}.
          </Text>
          <Text>Choose a criterion or a signal to see what it is worth. {onChange && "Change one, or move a bar on the map, and it becomes a draft; nothing goes live before you publish it."}</Text>
        </Stack>
      </WhyPane>
    </ChosenPane>
  );
}

function useChosen({ scoring, model, draft, chosen, onChoose, findings, outcomes, onChange }: Props): ChosenPart | undefined {
  const fields = useFields().data ?? [];
  const campaigns = useQuery({ queryKey: keys.campaigns, enabled: chosen?.kind === "engagement", queryFn: () => must(api.GET("/api/campaigns")) });
  const words = (draft.model ? scoring.draft?.shown.words : scoring.live.words) ?? [];
  // What stands around a lead is not known when it is scored.
  const asked = fields.filter((f) => f.origin !== "around" && !ofScores.includes(f.key));
  const common = { model, findings, onChange, onGone: () => onChoose(null) };
  const criterion = chosen?.kind === "fit" ? model.fit[chosen.at] : undefined;
  const signal = chosen?.kind === "engagement" ? model.engagement[chosen.at] : undefined;
  if (criterion && chosen?.kind === "fit")
    return {
      title: `What ${criterion.label.toLowerCase()} is worth`,
      body: <CriterionEditor key={criterion.key} {...common} at={chosen.at} words={words} worth={outcomes?.criteria.find((c) => c.key === criterion.key)} fields={asked} />,
    };
  if (signal && chosen?.kind === "engagement")
    return {
      title: signal.label,
      body: <SignalEditor {...common} at={chosen.at} worth={outcomes?.signals[chosen.at]} kinds={fields.find((f) => f.key === "event")?.choices ?? []} campaignKinds={campaigns.data?.kinds ?? []} />,
    };
  if (chosen?.kind === "around") return { title: "For all leads", body: <AroundEditor model={model} words={words} findings={findings} fields={asked} onChange={onChange} /> };
  return undefined;
}
