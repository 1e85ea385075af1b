import { useQuery } from "@tanstack/react-query";
import { useNavigate, useParams, useSearchParams } from "react-router";
import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { Bench, Cap, Head, Inner, Pane } from "../parts/Bench";
import { ChoiceBox } from "../parts/Field";
import { count, money } from "../parts/format";
import { Empty, Skeleton, ErrorNote } from "../parts/States";
import { useMay } from "../common/session";
import { AddStage } from "./AddStage";
import { DealTable } from "./DealTable";
import { useFirstRows, type DealList } from "./rows";
import { DealWhy } from "./DealWhy";
import { DirectoryTabs } from "./DirectoryTabs";
import { Lanes } from "./Lanes";
import { Losing, useMoveDeal, type Move } from "./moving";
import { useState } from "react";
import { keys } from "../common/keys";

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

/** The pipeline as lanes along time, or as a table; a deal opens beside it. */
export function DealsPage() {
  const { id } = useParams();
  const [params, setParams] = useSearchParams();
  const opened = useDeal(id);
  // An opened deal shows its own pipeline, unless another was chosen.
  const pipeline = params.get("pipeline") ?? opened.data?.pipeline;
  const as = params.get("as") ?? "lanes";
  const closed = as === "closed";
  const deals = useQuery({
    queryKey: keys.deals(pipeline),
    enabled: !id || !!pipeline || opened.isError,
    queryFn: () => must(api.GET("/api/deals", { params: { query: { pipeline } } })),
    placeholderData: (before) => before,
  });
  const list: DealList = { pipeline: deals.data?.pipeline, closed, stage: params.get("stage") ?? undefined };
  const rows = useFirstRows(list, as !== "lanes" && !!list.pipeline);
  const navigate = useNavigate();
  const move = useMoveDeal();
  const mayMove = useMay("workDeals");
  const maySetUp = useMay("setUp");
  const [losing, setLosing] = useState<{ deal: Schema["DealItem"]; change: Move }>();
  const open = (deal: string) => void navigate(`/deals/${deal}?${params}`);
  const set = (key: string, value: string) => setParams((p) => (p.set(key, value), p), { replace: true });

  if (deals.isPending) return <Skeleton />;
  if (deals.isError) return <ErrorNote error={deals.error} />;
  const view = deals.data;
  const stages = view.pipelines.find((p) => p.key === view.pipeline)?.stages ?? [];
  // Losing asks why first.
  const ask = (deal: Schema["DealItem"], change: Move) =>
    stages.find((s) => s.key === change.stage)?.counts === "lost" ? setLosing({ deal, change }) : void move(deal, change);
  return (
    <Bench>
      <Pane>
        <Inner>
          <DirectoryTabs at="deals" />
          <Head>
            <div>
              <h1>
                {view.pipelines.find((p) => p.key === view.pipeline)?.name}
                {closed ? ", the last 90 days" : ", the next half year"}
              </h1>
              <p>{closed ? rows.data && count(rows.data.all, "deal was closed", "deals were closed") : sentence(view)}</p>
            </div>
            <Picks>
              <ChoiceBox hideLabel label="Pipeline" value={view.pipeline} options={view.pipelines.map((p) => ({ key: p.key, label: p.name }))} onChange={(k) => set("pipeline", k)} />
              <ChoiceBox hideLabel label="Show as" value={as} options={ways} onChange={(k) => setParams((p) => (p.delete("stage"), p.set("as", k), p), { replace: true })} />
            </Picks>
          </Head>
          {view.deals.length === 0 && !closed && <Empty>Deals come from qualified leads that were handed over; the open ones stand here by stage and expected close.</Empty>}
          {list.stage && <p style={{ marginBottom: 8 }}>Only {stages.find((s) => s.key === list.stage)?.name}.</p>}
          {as !== "lanes" && rows.isError && <ErrorNote error={rows.error} />}
          {as !== "lanes" && !!rows.data?.all && <DealTable key={`${list.pipeline} ${closed} ${list.stage}`} list={list} all={rows.data.all} stages={stages} selected={id} onOpen={open} />}
          {view.deals.length > 0 && as === "lanes" && (
            <Lanes
              view={view}
              stages={stages.filter((s) => s.counts === "open")}
              selected={id}
              mayMove={mayMove}
              onOpen={open}
              onMove={ask}
              onAll={(stage) => setParams((p) => (p.set("as", "table"), p.set("stage", stage), p))}
            />
          )}
          {as === "lanes" && maySetUp && <AddStage pipeline={view.pipeline} />}
          {!closed && (
            <Cap style={{ marginTop: 12 }}>
              In the last 90 days: {stages.filter((s) => s.counts !== "open").map((s) => `${s.deals} ${s.name.toLowerCase()}`).join(", ")}.
            </Cap>
          )}
        </Inner>
      </Pane>
      {id && opened.isError && <ErrorNote error={opened.error} />}
      {id && opened.data && opened.data.pipeline === view.pipeline && <DealWhy key={id} sheet={opened.data} view={view} mayMove={mayMove} onMove={(change) => ask(opened.data.deal, change)} />}
      {losing && (
        <Losing
          deal={losing.deal}
          onLeave={() => setLosing(undefined)}
          onLose={(why) => {
            setLosing(undefined);
            void move(losing.deal, { ...losing.change, ...why });
          }}
        />
      )}
    </Bench>
  );
}

const useDeal = (id?: string) => useQuery({ queryKey: keys.deal(id), enabled: !!id, queryFn: () => must(api.GET("/api/deals/{id}", { params: { path: { id: id! } } })) });

function sentence(view: Schema["DealsView"]) {
  const sums = view.totals.map((t) => `${money(t.weighted, t.currency)} weighted of ${money(t.open, t.currency)} open`).join("; ");
  return `${sums || "Nothing is open"}. ${view.late ? `${count(view.late, "deal")} ${view.late === 1 ? "stands past its" : "stand past their"} date.` : "None is late."}`;
}

