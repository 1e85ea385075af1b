import { useQuery } from "@tanstack/react-query";
import { useNavigate, useParams, useSearchParams } from "react-router";
import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { Bench, Cap, Head, Inner, Pane, Table } from "../parts/Bench";
import { ChoiceBox } from "../parts/Field";
import { count, day, money } from "../parts/format";
import { Empty, Skeleton, Trouble } from "../parts/States";
import { tell, tellTrouble } from "../parts/Toast";
import { useMay, useRefresh } from "../Setup/session";
import { DealWhy } from "./DealWhy";
import { Lanes } from "./Lanes";

const Picks = styled.div`
  display: flex;
  gap: 10px;
  flex: none;
`;

export type Move = { stage?: string; expectedClose?: string; amount?: number; lostReason?: string };

/** The pipeline as lanes along time, or as a table; a deal opens beside it. */
export function DealsPage() {
  const { id } = useParams();
  const [params, setParams] = useSearchParams();
  const opened = useDeal(id);
  // An opened deal shows its own pipeline, unless another was chosen.
  const pipeline = params.get("pipeline") ?? opened.data?.pipeline;
  const asTable = params.get("as") === "table";
  const deals = useQuery({ queryKey: ["deals", pipeline], enabled: !id || !!pipeline || opened.isError, queryFn: () => must(api.GET("/api/deals", { params: { query: { pipeline } } })), placeholderData: (before) => before });
  const navigate = useNavigate();
  const move = useMoveDeal();
  const mayMove = useMay("workDeals");
  const open = (deal: string) => void navigate(`/deals/${deal}?${params}`);
  const set = (key: string, value: string) => setParams((p) => (p.set(key, value), p), { replace: true });

  if (deals.isPending) return <Skeleton />;
  if (deals.isError) return <Trouble error={deals.error} />;
  const view = deals.data;
  const stages = view.pipelines.find((p) => p.key === view.pipeline)?.stages ?? [];
  return (
    <Bench>
      <Pane>
        <Inner>
          <Head>
            <div>
              <h1>{view.pipelines.find((p) => p.key === view.pipeline)?.name}, the next half year</h1>
              <p>{sentence(view)}</p>
            </div>
            <Picks>
              <ChoiceBox hideLabel label="Pipeline" value={view.pipeline} options={view.pipelines.map((p) => ({ key: p.key, label: p.name }))} onChange={(k) => set("pipeline", k)} />
              <ChoiceBox hideLabel label="Show as" value={asTable ? "table" : "lanes"} options={[{ key: "lanes", label: "as lanes" }, { key: "table", label: "as a table" }]} onChange={(k) => set("as", k)} />
            </Picks>
          </Head>
          {view.deals.length === 0 && <Empty>Deals come from qualified leads that were handed over; the open ones stand here by stage and expected close.</Empty>}
          {view.deals.length > 0 && asTable && <DealTable view={view} stages={stages} selected={id} onOpen={open} />}
          {view.deals.length > 0 && !asTable && <Lanes view={view} stages={stages.filter((s) => s.counts === "open")} selected={id} mayMove={mayMove} onOpen={open} onMove={(deal, change) => void move(deal, change)} />}
          <Cap style={{ marginTop: 12 }}>
            In the last 90 days: {stages.filter((s) => s.counts !== "open").map((s) => `${s.deals} ${s.name.toLowerCase()}`).join(", ")}.
          </Cap>
        </Inner>
      </Pane>
      {id && opened.isError && <Trouble error={opened.error} />}
      {id && opened.data && opened.data.pipeline === view.pipeline && <DealWhy key={id} sheet={opened.data} view={view} mayMove={mayMove} onMove={(change) => move(opened.data.deal, change)} />}
    </Bench>
  );
}

const useDeal = (id?: string) => useQuery({ queryKey: ["deal", id], enabled: !!id, queryFn: () => must(api.GET("/api/deals/{id}", { params: { path: { id: id! } } })) });

function sentence(view: Schema["DealsView"]) {
  const sums = view.totals.map((t) => `${money(t.weighted, t.currency)} weighted of ${money(t.open, t.currency)} open`).join("; ");
  const late = view.deals.filter((d) => d.late);
  return `${sums || "Nothing is open"}. ${late.length ? `${count(late.length, "deal")} ${late.length === 1 ? "stands" : "stand"} past ${late.length === 1 ? "its" : "their"} date.` : "None is late."}`;
}

/** Moves a deal and offers the way back; a stale move is said and shows theirs. */
function useMoveDeal() {
  const refresh = useRefresh();
  const send = (deal: Schema["DealItem"], change: Move) =>
    must(
      api.PATCH("/api/deals/{id}", {
        params: { path: { id: deal.id } },
        headers: { "If-Match": `"${deal.version}"` },
        body: { stage: change.stage ?? null, expectedClose: change.expectedClose ?? null, amount: change.amount ?? null, lostReason: change.lostReason ?? null },
      }),
    );
  return async (deal: Schema["DealItem"], change: Move) => {
    if (!change.stage && !change.expectedClose && change.amount === undefined) return;
    try {
      const now = await send(deal, change);
      const before = { stage: deal.stageKey, expectedClose: deal.expectedClose, amount: deal.amount };
      tell(`${now.deal.name}: ${now.stageName}, ${day(now.deal.expectedClose)}.`, () => void send(now.deal, before).then(refresh, tellTrouble));
    } catch (e) {
      tellTrouble(e);
    }
    await refresh();
  };
}

type TableProps = { view: Schema["DealsView"]; stages: Schema["StageView"][]; selected?: string; onOpen: (id: string) => void };

function DealTable({ view, stages, selected, onOpen }: TableProps) {
  const names = Object.fromEntries(stages.map((s) => [s.key, s]));
  return (
    <Table>
      <thead>
        <tr>
          <th>Deal</th>
          <th>Owner</th>
          <th>Stage</th>
          <th className="n">Amount</th>
          <th className="n">Weighted</th>
          <th>Expected close</th>
        </tr>
      </thead>
      <tbody>
        {view.deals.map((d) => (
          <tr key={d.id} style={d.id === selected ? { background: "var(--sheet)" } : undefined}>
            <td>
              <a
                href={`/deals/${d.id}`}
                onClick={(e) => {
                  e.preventDefault();
                  onOpen(d.id);
                }}
              >
                {d.name}
              </a>
            </td>
            <td>{d.ownerName}</td>
            <td>{names[d.stageKey]?.name}</td>
            <td className="n">{money(d.amount, d.currency)}</td>
            <td className="n">{money((d.amount * (names[d.stageKey]?.probability ?? 0)) / 100, d.currency)}</td>
            <td style={d.late ? { color: "var(--bad)" } : undefined}>
              {day(d.expectedClose)}
              {d.late && ", late"}
            </td>
          </tr>
        ))}
      </tbody>
    </Table>
  );
}
