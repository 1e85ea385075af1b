import { useState } from "react";
import type { Schema } from "../api/client";
import { Tabs } from "../parts/Tabs";
import { cells, type Model, type Trial } from "./model";
import { ScoreMap } from "./ScoreMap";
import type { Draft } from "./useDraft";

type Props = { scoring: Schema["ScoringView"]; draft: Draft; trial?: Trial; onBars?: (bars: Model["bars"]) => void };

const ways = [
  { key: "draft", label: "By the draft" },
  { key: "now", label: "As it is now" },
] as const;

const width = 5;

/** All open leads on the score map: by the live model, or by the draft once it was tried on them. */
export function ModelMap({ scoring, draft, trial, onBars }: Props) {
  const [at, setAt] = useState<"draft" | "now">("draft");
  const done = !!draft.model && !!trial && trial.leads > 0 && trial.done >= trial.leads;
  const before = at === "now";
  const showDraft = done && !before;
  const live = scoring.live.model.bars;
  return (
    <>
      {done && <Tabs label="By which model" tabs={ways} at={at} onChoose={setAt} />}
      <ScoreMap
        map={showDraft ? cells(trial.map, width) : scoring.map}
        bars={before ? live : (draft.model ?? scoring.live.model).bars}
        before={draft.model && !before ? live : undefined}
        quarters={showDraft ? trial.quarters : scoring.quarters}
        quartersBefore={showDraft ? trial.quartersNow : undefined}
        onBars={before ? undefined : onBars}
      />
    </>
  );
}
