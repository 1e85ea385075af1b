import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { api, must, type Schema } from "../api/client";
import { useFields } from "../common/fields";
import { Bench, Head, Inner, Pane } from "../parts/Bench";
import { Button } from "../parts/Button";
import { count, day, whole } from "../parts/format";
import { Skeleton, ErrorNote } from "../parts/States";
import { Tabs } from "../parts/Tabs";
import { WhyPane } from "../parts/WhyPane";
import { useSession } from "../common/session";
import { AroundEditor } from "./AroundEditor";
import { CriterionEditor } from "./CriterionEditor";
import { DraftChanges } from "./DraftChanges";
import { Editions } from "./Editions";
import { cells, type Chosen, type Model, type Trial } from "./model";
import { ModelList } from "./ModelList";
import { Outcomes } from "./Outcomes";
import { useOutcomes, useScoring, useTrial } from "./queries";
import { ScoreMap } from "./ScoreMap";
import { SignalEditor } from "./SignalEditor";
import { useDraft, type Draft } from "./useDraft";
import { keys } from "../common/keys";

type Tabbed = "map" | "outcomes" | "editions";
const tabs: { key: Tabbed; label: string }[] = [
  { key: "map", label: "Map" },
  { key: "outcomes", label: "Held against outcomes" },
  { key: "editions", label: "Editions" },
];

/** The scoring model: read, changed as a draft, tried on all leads, held against outcomes, published. */
export function ScoringPage() {
  const scoring = useScoring();
  if (scoring.isPending) return <Skeleton />;
  if (scoring.isError) return <ErrorNote error={scoring.error} />;
  return <Scoring scoring={scoring.data} />;
}

function Scoring({ scoring }: { scoring: Schema["ScoringView"] }) {
  const maySetUp = useSession().may.includes("setUp");
  const draft = useDraft(scoring);
  const [asked, setAsked] = useSearchParams();
  const tab = tabs.find((t) => t.key === asked.get("show"))?.key ?? "map";
  const [chosen, setChosen] = useState<Chosen>(null);
  const model = draft.model ?? scoring.live.model;
  const trial = useTrial(draft.model ?? undefined).data;
  const outcomes = useOutcomes(draft.model ?? undefined).data;
  const next = scoring.draft?.number ?? scoring.edition + 1;
  const findings = draft.model ? (trial?.findings ?? scoring.draft?.shown.findings ?? []) : scoring.live.findings;
  const change = maySetUp ? draft.change : undefined;
  return (
    <Bench>
      <Pane $width={330} aria-label="Model">
        <Inner>
          <p style={{ fontSize: 13, color: "var(--soft)", marginBottom: 12 }}>
            {draft.model ? `Draft after edition ${scoring.edition} · not live` : `Edition ${scoring.edition}, live since ${day(scoring.publishedAt)}${scoring.publishedBy ? `, by ${scoring.publishedBy}` : ""}`}
          </p>
          <ModelList model={model} findings={findings} outcomes={outcomes} chosen={chosen} onChoose={setChosen} onChange={change} />
        </Inner>
      </Pane>
      <Pane $sheet aria-label={tabs.find((t) => t.key === tab)!.label}>
        <Inner>
          <Tabs label="Scoring" tabs={tabs} at={tab} onChoose={(key) => setAsked(key === "map" ? {} : { show: key })} />
          <Head>
            <Title scoring={scoring} draft={draft} trial={trial} outcomes={outcomes} />
          </Head>
          {tab === "map" && <Map scoring={scoring} draft={draft} trial={trial} onBars={change && ((bars) => change({ ...model, bars }))} />}
          {tab === "outcomes" && <Outcomes model={draft.model ?? undefined} live={scoring.live.model} onDraft={change} />}
          {tab === "editions" && <Editions draft={draft} maySetUp={maySetUp} />}
        </Inner>
      </Pane>
      <Right scoring={scoring} model={model} draft={draft} trial={trial} next={next} chosen={chosen} onChoose={setChosen} findings={findings} outcomes={outcomes} onChange={change} />
    </Bench>
  );
}

function Title({ scoring, draft, trial, outcomes }: { scoring: Schema["ScoringView"]; draft: Draft; trial?: Trial; outcomes?: Schema["OutcomeReport"] }) {
  const leads = scoring.quarters.reduce((s, q) => s + q.leads, 0);
  const now = scoring.quarters.find((q) => q.move === "hand_over")?.leads ?? 0;
  const done = draft.model && trial && trial.done >= trial.leads && trial.leads > 0;
  const over = done ? (trial.quarters.find((q) => q.move === "hand_over")?.leads ?? 0) : now;
  const won = outcomes && outcomes.all.won > 0 ? Math.round((100 * (outcomes.quarters.find((q) => q.key === "hand_over")?.share.won ?? 0)) / outcomes.all.won) : undefined;
  const run = scoring.run && !scoring.run.endedAt ? scoring.run : undefined;
  const running = run && (run.trouble ?? `Scoring all leads by edition ${scoring.edition}: ${whole(run.done)} of ${count(run.leads, "lead")}.`);
  return (
    <div>
      <h1>
        {whole(leads)} open leads, {whole(over)} clear both bars
      </h1>
      {/* Of one height whatever it says: what is under it must not move away from under a hand when the scoring ends. */}
      <p style={{ minHeight: "1.5em" }}>
        <span role="status">{running && `${running} `}</span>
        {done && over !== now && `${whole(Math.abs(over - now))} ${over > now ? "more" : "fewer"} than now. `}
        {!running && won !== undefined && `Of those won in two years, ${won} in 100 had cleared them.`}
      </p>
    </div>
  );
}

function Map({ scoring, draft, trial, onBars }: { scoring: Schema["ScoringView"]; draft: Draft; trial?: Trial; onBars?: (bars: Model["bars"]) => void }) {
  const [before, setBefore] = useState(false);
  const done = !!draft.model && !!trial && trial.leads > 0 && trial.done >= trial.leads;
  const showDraft = done && !before;
  return (
    <>
      {done && (
        <p style={{ display: "flex", gap: 12, fontSize: 14, marginBottom: 2 }}>
          <Button look="quiet" aria-pressed={!before} style={{ padding: 0, minHeight: 26, textDecoration: before ? undefined : "underline" }} onPress={() => setBefore(false)}>
            By the draft
          </Button>
          <Button look="quiet" aria-pressed={before} style={{ padding: 0, minHeight: 26, textDecoration: before ? "underline" : undefined }} onPress={() => setBefore(true)}>
            As it is now
          </Button>
        </p>
      )}
      <ScoreMap
        map={showDraft ? cells(trial.map, 5) : scoring.map}
        bars={before ? scoring.live.model.bars : (draft.model ?? scoring.live.model).bars}
        before={draft.model && !before ? scoring.live.model.bars : undefined}
        quarters={showDraft ? trial.quarters : scoring.quarters}
        quartersBefore={showDraft ? trial.quartersNow : undefined}
        onBars={before ? undefined : onBars}
      />
    </>
  );
}

type RightProps = {
  scoring: Schema["ScoringView"];
  model: Model;
  draft: Draft;
  trial?: Trial;
  next: number;
  chosen: Chosen;
  onChoose: (chosen: Chosen) => void;
  findings: readonly Schema["ModelFinding"][];
  outcomes?: Schema["OutcomeReport"];
  onChange?: (model: Model) => void;
};

function Right({ scoring, model, draft, trial, next, chosen, onChoose, findings, outcomes, onChange }: RightProps) {
  const fields = useFields().data ?? [];
  const campaigns = useQuery({ queryKey: keys.campaigns, enabled: chosen?.kind === "engagement", queryFn: () => must(api.GET("/api/campaigns")) });
  const gone = () => onChoose(null);
  const words = (draft.model ? scoring.draft?.shown.words : scoring.live.words) ?? [];
  // What stands around a lead is not known when it is scored, and a score cannot ask itself.
  const asked = fields.filter((f) => f.origin !== "around" && !["fit", "engagement", "next_move"].includes(f.key));
  const criterion = chosen?.kind === "fit" ? model.fit[chosen.at] : undefined;
  const signal = chosen?.kind === "engagement" ? model.engagement[chosen.at] : undefined;
  const back = (
    <p style={{ marginTop: 16 }}>
      <Button look="quiet" style={{ padding: 0 }} onPress={gone}>
        {draft.model ? "What this draft would change" : "Close"}
      </Button>
    </p>
  );
  if (criterion && chosen?.kind === "fit")
    return (
      <WhyPane title={`What ${criterion.label.toLowerCase()} is worth`}>
        <CriterionEditor key={criterion.key} model={model} at={chosen.at} words={words} findings={findings} worth={outcomes?.criteria.find((c) => c.key === criterion.key)} fields={asked} onChange={onChange} onGone={gone} />
        {back}
      </WhyPane>
    );
  if (signal && chosen?.kind === "engagement")
    return (
      <WhyPane title={signal.label}>
        <SignalEditor model={model} at={chosen.at} findings={findings} worth={outcomes?.signals[chosen.at]} kinds={fields.find((f) => f.key === "event")?.choices ?? []} campaignKinds={campaigns.data?.kinds ?? []} onChange={onChange} onGone={gone} />
        {back}
      </WhyPane>
    );
  if (chosen?.kind === "around")
    return (
      <WhyPane title="For all leads">
        <AroundEditor model={model} words={words} findings={findings} fields={asked} onChange={onChange} />
        {back}
      </WhyPane>
    );
  if (draft.model)
    return (
      <WhyPane title="What this draft would change">
        <DraftChanges draft={draft} model={model} trial={trial} next={next} />
      </WhyPane>
    );
  return (
    <WhyPane title="How it is read">
      <div style={{ display: "grid", gap: 10, fontSize: 14 }}>
        <p>Fit asks what kind of customer they are; each answer gives points, up to 100. Engagement asks what they did lately; each activity gives points that halve with time.</p>
        <p>
          Fit of {model.bars.fit} and engagement of {model.bars.engagement} together say {model.names.handOver.toLowerCase()}.
        </p>
        <p>Choose a criterion or a signal to see what it is worth. {onChange && "Change one, or move a bar on the map, and it becomes a draft; nothing goes live before you publish it."}</p>
      </div>
    </WhyPane>
  );
}
