import { useState } from "react";
import { useSearchParams } from "react-router";
import type { Schema } from "../api/client";
import { useMay } from "../common/session";
import { Bench, Head, Inner, Pane } from "../parts/Bench";
import { day } from "../parts/format";
import { ErrorNote, Skeleton } from "../parts/States";
import { Tabs } from "../parts/Tabs";
import { Hint } from "../parts/Words";
import { Editions } from "./Editions";
import type { Chosen } from "./model";
import { ModelList } from "./ModelList";
import { ModelMap } from "./ModelMap";
import { Outcomes } from "./Outcomes";
import { useOutcomes, useScoring, useTrial } from "./queries";
import { ScoringSide } from "./ScoringSide";
import { ScoringTitle } from "./ScoringTitle";
import { useDraft } from "./useDraft";

type Tabbed = "map" | "outcomes" | "editions";
const tabs: { key: Tabbed; label: string }[] = [
  { key: "map", label: "Map" },
  { key: "outcomes", label: "Held against outcomes" },
  { key: "editions", label: "Editions" },
];

/** The scoring model: read, changed as a draft, tried on all leads, held against outcomes, published. */
export function ScoringPage() {
  const scoring = useScoring();
  if (!scoring.data) return <Bench>{scoring.isError ? <ErrorNote error={scoring.error} /> : <Skeleton />}</Bench>;
  return <Scoring scoring={scoring.data} />;
}

type View = Schema["ScoringView"];

function Scoring({ scoring }: { scoring: View }) {
  const maySetUp = useMay("setUp");
  const draft = useDraft(scoring);
  const [asked, setAsked] = useSearchParams();
  const tab = tabs.find((t) => t.key === asked.get("show"))?.key ?? "map";
  const [chosen, setChosen] = useState<Chosen>(null);
  const model = draft.model ?? scoring.live.model;
  const trial = useTrial(draft.model ?? undefined).data;
  const outcomes = useOutcomes(draft.model ?? undefined).data;
  const findings = draft.model ? (trial?.findings ?? scoring.draft?.shown.findings ?? []) : scoring.live.findings;
  const change = maySetUp ? draft.change : undefined;
  const shown = { scoring, draft, trial, outcomes };
  const editing = { model, findings, outcomes, chosen, onChoose: setChosen, onChange: change };
  return (
    <Bench>
      <Pane $width={330} aria-label="Model" data-landing="list">
        <Inner>
          <Hint $below={3}>{standing(scoring, !!draft.model)}</Hint>
          <ModelList {...editing} />
        </Inner>
      </Pane>
      <Pane $sheet aria-label={tabs.find((t) => t.key === tab)!.label}>
        <Inner>
          <Tabs label="Scoring" tabs={tabs} at={tab} onChoose={(key) => setAsked(key === "map" ? {} : { show: key })} />
          <Head>
            <ScoringTitle {...shown} />
          </Head>
          {tab === "map" && <ModelMap {...shown} onBars={change && ((bars) => change({ ...model, bars }))} />}
          {tab === "outcomes" && <Outcomes model={draft.model ?? undefined} live={scoring.live.model} onDraft={change} />}
          {tab === "editions" && <Editions draft={draft} maySetUp={maySetUp} />}
        </Inner>
      </Pane>
      <ScoringSide {...shown} {...editing} next={scoring.draft?.number ?? scoring.edition + 1} />
    </Bench>
  );
}

const standing = (scoring: View, isDraft: boolean) =>
  isDraft ? `Draft after edition ${scoring.edition} · not live` : `Edition ${scoring.edition}, live since ${day(scoring.publishedAt)}${scoring.publishedBy ? `, by ${scoring.publishedBy}` : ""}`;
