import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useParams, useSearchParams } from "react-router";
import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { keys } from "../common/keys";
import { useMay } from "../common/session";
import { Bench, Head, Inner, Pane } from "../parts/Bench";
import { ChoiceBox } from "../parts/Field";
import { count, money } from "../parts/format";
import { Empty, ErrorNote, Skeleton } from "../parts/States";
import { Hint } from "../parts/Words";
import { AddStage } from "./AddStage";
import { DealTable } from "./DealTable";
import { DealWhy } from "./DealWhy";
import { DirectoryTabs } from "./DirectoryTabs";
import { Lanes } from "./Lanes";
import { Losing, useMoveDeal, type Move } from "./moving";
import { useFirstRows, type DealList } from "./rows";

const Picks = styled.div`
  display: flex;
  gap: 10px;
  flex: none;
`;

const ways = [
  { key: "lanes", label: "as lanes" },
  { key: "table", label: "as a table" },
  { key: "closed", label: "closed lately" },
];

type View = Schema["DealsView"];
type Deal = Schema["DealItem"];

/** The pipeline as lanes along time, or as a table; a deal opens beside it. */
export function DealsPage() {
  const { id } = useParams();
  const [params] = useSearchParams();
  const opened = useQuery({ queryKey: keys.deal(id), enabled: !!id, queryFn: () => must(api.GET("/api/deals/{id}", { params: { path: { id: id! } } })) });
  // An opened deal shows its own pipeline, unless another was chosen.
  const pipeline = params.get("pipeline") ?? opened.data?.pipeline;
  const deals = useQuery({
    queryKey: keys.deals(pipeline),
    enabled: !id || !!pipeline || opened.isError,
    queryFn: () => must(api.GET("/api/deals", { params: { query: { pipeline } } })),
    placeholderData: (before) => before,
  });
  const view = deals.data;
  const stages = view?.pipelines.find((p) => p.key === view.pipeline)?.stages ?? [];
  const moving = useMoving(stages);
  const mayMove = useMay("workDeals");
  const here = opened.data && view && opened.data.pipeline === view.pipeline ? opened.data : undefined;
  return (
    <Bench>
      <Pane aria-label="Deals">
        <Inner>
          <DirectoryTabs at="deals" />
          {deals.isError && <ErrorNote error={deals.error} />}
          {deals.isPending && <Skeleton />}
          {view && <Shown view={view} stages={stages} selected={id} onMove={moving.ask} />}
        </Inner>
      </Pane>
      {id && opened.isError && <ErrorNote error={opened.error} />}
      {here && <DealWhy key={id} sheet={here} view={view!} mayMove={mayMove} onMove={(change) => moving.ask(here.deal, change)} />}
      {moving.dialog}
    </Bench>
  );
}

/** Moves deals; losing one asks why first. */
function useMoving(stages: Schema["StageView"][]) {
  const move = useMoveDeal();
  const [losing, setLosing] = useState<{ deal: Deal; change: Move }>();
  const ask = (deal: Deal, change: Move) => (stages.find((s) => s.key === change.stage)?.counts === "lost" ? setLosing({ deal, change }) : void move(deal, change));
  const lose = (why: Move) => {
    setLosing(undefined);
    if (losing) void move(losing.deal, { ...losing.change, ...why });
  };
  return { ask, dialog: losing && <Losing deal={losing.deal} onLeave={() => setLosing(undefined)} onLose={lose} /> };
}

type ShownProps = { view: View; stages: Schema["StageView"][]; selected?: string; onMove: (deal: Deal, change: Move) => void };

function Shown({ view, stages, selected, onMove }: ShownProps) {
  const [params, setParams] = useSearchParams();
  const navigate = useNavigate();
  const mayMove = useMay("workDeals");
  const maySetUp = useMay("setUp");
  const as = params.get("as") ?? "lanes";
  const closed = as === "closed";
  const list: DealList = { pipeline: view.pipeline, closed, stage: params.get("stage") ?? undefined };
  const rows = useFirstRows(list, as !== "lanes");
  const open = (deal: string) => void navigate(`/deals/${deal}?${params}`);
  const said = closed ? rows.data && count(rows.data.all, "deal was closed", "deals were closed") : sentence(view);
  return (
    <>
      <Title view={view} closed={closed} sentence={said} />
      {view.deals.length === 0 && !closed && <Empty>Deals come from qualified leads that were handed over; the open ones stand here by stage and expected close.</Empty>}
      {list.stage && <Hint $below={2}>Only {stages.find((s) => s.key === list.stage)?.name}.</Hint>}
      {as !== "lanes" && rows.isError && <ErrorNote error={rows.error} />}
      {as !== "lanes" && !!rows.data?.all && <DealTable key={`${list.pipeline} ${closed} ${list.stage}`} list={list} all={rows.data.all} stages={stages} selected={selected} onOpen={open} />}
      {view.deals.length > 0 && as === "lanes" && (
        <Lanes view={view} stages={stages.filter((s) => s.counts === "open")} selected={selected} mayMove={mayMove} onOpen={open} onMove={onMove} onAll={(stage) => setParams((p) => (p.set("as", "table"), p.set("stage", stage), p))} />
      )}
      {as === "lanes" && maySetUp && <AddStage pipeline={view.pipeline} />}
      {!closed && (
        <Hint $above={3}>
          In the last 90 days: {stages.filter((s) => s.counts !== "open").map((s) => `${s.deals} ${s.name.toLowerCase()}`).join(", ")}.
        </Hint>
      )}
    </>
  );
}

function Title({ view, closed, sentence: said }: { view: View; closed: boolean; sentence?: string }) {
  const [params, setParams] = useSearchParams();
  const pipeline = (key: string) => setParams((p) => (p.set("pipeline", key), p), { replace: true });
  const way = (key: string) => setParams((p) => (p.delete("stage"), p.set("as", key), p), { replace: true });
  return (
    <Head>
      <div>
        <h1>
          {view.pipelines.find((p) => p.key === view.pipeline)?.name}
          {closed ? ", the last 90 days" : ", the next half year"}
        </h1>
        <p>{said}</p>
      </div>
      <Picks>
        <ChoiceBox hideLabel label="Pipeline" value={view.pipeline} options={view.pipelines.map((p) => ({ key: p.key, label: p.name }))} onChange={pipeline} />
        <ChoiceBox hideLabel label="Show as" value={params.get("as") ?? "lanes"} options={ways} onChange={way} />
      </Picks>
    </Head>
  );
}

function sentence(view: View) {
  const sums = view.totals.map((t) => `${money(t.weighted, t.currency)} weighted of ${money(t.open, t.currency)} open`).join("; ");
  return `${sums || "Nothing is open"}. ${view.late ? `${count(view.late, "deal")} ${view.late === 1 ? "stands past its" : "stand past their"} date.` : "None is late."}`;
}
