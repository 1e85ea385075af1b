import { useMemo, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import styled from "styled-components";
import { Bench, Pane } from "../parts/Bench";
import { Button } from "../parts/Button";
import { Files } from "../parts/Files";
import { count as counted, whole } from "../parts/format";
import { Empty, Skeleton, ErrorNote } from "../parts/States";
import { small } from "../parts/theme";
import { useMay } from "../Setup/session";
import { BulkBar, type Ticked } from "./Bulk/BulkBar";
import { allOf, partsOf, type Condition } from "../Conditions/conditions";
import { Counts } from "./Counts";
import { Layout, orderWords, Word } from "./Layout";
import { LeadPane } from "./LeadPane";
import { LeadWhy } from "./LeadWhy";
import { useGroups, useLead, useLeadPages, useLive } from "./queries";
import { useFields } from "../Conditions/useFields";
import { Month } from "./Month";
import { Sentence } from "./Sentence";
import { ViewBar } from "./ViewBar";
import { useWork, whereOf, writeColumns, type Work } from "./work";
import { Worklist } from "./Worklist";

const List = styled(Pane)<{ $behind: boolean }>`
  ${(p) => (p.$behind ? "width: 420px; flex: none;" : "flex: 1;")}
  display: flex;
  flex-direction: column;
  overflow: hidden;
  @media (max-width: 1100px) {
    ${(p) => p.$behind && "width: 340px;"}
  }
  @media (max-width: 767px) {
    width: auto;
    display: ${(p) => (p.$behind ? "none" : "flex")};
    height: 70vh;
  }
`;

const Top = styled.div`
  padding: 10px 18px 8px;
  border-bottom: 1px solid var(--hair);
`;

const Under = styled.div`
  ${small}
  display: flex;
  flex-wrap: wrap;
  gap: 2px 16px;
  align-items: center;
  margin-top: 3px;
  b {
    color: var(--ink);
  }
  & > span:first-child {
    margin-right: auto;
  }
`;

const Quick = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 0 10px;
  margin-left: auto;
  button {
    font-weight: 450;
    font-size: 13px;
  }
`;

/** The worklist, and beside it the lead that is open. */
export function LeadsPage() {
  const { id } = useParams();
  const { work, views, ready, params, set, setWhere, open } = useWork();
  const navigate = useNavigate();
  const fields = useFields().data ?? [];
  const pages = useLeadPages(work, ready);
  const lead = useLead(id);
  useLive(id);
  const [asked, setAsked] = useState(0);
  // Leads ticked to be changed together; null while one is not about that.
  const [ticked, setTicked] = useState<Ticked | null>(null);
  const mayTick = useMayTick(work);
  const leads = useMemo(() => pages.data?.pages.flatMap((p) => p.leads) ?? [], [pages.data]);
  const first = pages.data?.pages[0];
  const groups = useGroups(whereOf(work), work.show === "rows" ? work.group : null);
  const sizes = useMemo(() => new Map(groups.data?.rows.map((r, i) => [r.key, groups.data.cells.find((c) => c.row === i)?.count ?? 0])), [groups.data]);
  const wide = !id;
  return (
    <Bench>
      <List as="section" aria-label="Worklist" $behind={!!id}>
        <Top>
          <ViewBar work={work} views={views} wide={wide} onOpen={open}>
            {wide && <Pinned work={work} onAdd={(where) => setWhere(allOf([...partsOf(work.where), where]))} />}
          </ViewBar>
          <Sentence where={work.where} fields={fields} text={work.text} order={orderWords(work.order, fields)} onChange={setWhere} onClearText={() => set({ text: null })} />
          <Under>
            <Total work={work} page={first} />
            {wide && <ToDuplicates />}
            {wide && mayTick && work.show === "rows" && (
              <Word onPress={() => setTicked(ticked ? null : new Set())} aria-pressed={!!ticked}>
                Several at once
              </Word>
            )}
            {wide && <Layout work={work} fields={fields} set={set} />}
          </Under>
        </Top>
        {work.show === "counts" && wide ? (
          <Counts where={whereOf(work)} fields={fields} params={params} set={set} />
        ) : work.show === "month" && wide ? (
          <Month where={whereOf(work)} fields={fields} params={params} set={set} />
        ) : (
          <>
            {pages.isPending && <Skeleton rows={9} />}
            {pages.isError && <ErrorNote error={pages.error} />}
            {first && leads.length === 0 && <Empty action={<Button onPress={() => setWhere(null)}>Show all leads</Button>}>No lead fits this sentence. Loosen a condition, or look at all of them.</Empty>}
            {leads.length > 0 && (
              <Worklist
                wide={wide}
                leads={leads}
                work={work}
                fields={fields}
                counts={sizes}
                selected={id}
                ticked={wide ? ticked : null}
                onTick={setTicked}
                onOpen={(lead) => void navigate(`/leads/${lead}?${params}`)}
                onMore={() => pages.hasNextPage && !pages.isFetching && void pages.fetchNextPage()}
                onOrder={(order) => set({ order })}
                onWidth={(field, width) => set({ columns: writeColumns(work.columns.map((c) => (c.field === field ? { field, width } : c))) })}
              />
            )}
          </>
        )}
        {wide && ticked && work.show === "rows" && first && (
          <BulkBar ticked={ticked} all={first.count} about={first.estimated} where={JSON.stringify(whereOf(work))} view={work.view} onTick={setTicked} onLeave={() => setTicked(null)} />
        )}
      </List>
      {id && lead.isPending && (
        <Pane $sheet>
          <Skeleton />
        </Pane>
      )}
      {id && lead.isError && (
        <Pane $sheet>
          <ErrorNote error={lead.error} />
        </Pane>
      )}
      {id && lead.data && (
        <>
          <LeadPane key={id} lead={lead.data} onBack={() => void navigate(`/leads?${params}`)} ask={asked} />
          <LeadWhy lead={lead.data} onAsk={() => setAsked(asked + 1)} />
        </>
      )}
    </Bench>
  );
}

/** Whoever may change some lead, by role or by the view, may tick. */
function useMayTick(work: Work) {
  const [works, gives, runs] = [useMay("workLeads"), useMay("giveLeads"), useMay("runIntake")];
  return works || gives || runs || !!work.view?.mayDo.some((act) => act !== "export");
}

/** To the pairs that may be one, for who may settle them. */
function ToDuplicates() {
  return useMay("settleDuplicates") ? <Link to="/leads/duplicates">Duplicates</Link> : null;
}

type Page = NonNullable<ReturnType<typeof useLeadPages>["data"]>["pages"][number];

function Total({ work, page }: { work: Work; page?: Page }) {
  const may = useMay("exportLeads") || !!work.view?.mayDo.includes("export");
  const within = work.view ? `&view=${work.view.id}` : "";
  if (!page) return <span role="status">counting …</span>;
  const all = page.estimated ? `about ${whole(page.count)} leads` : counted(page.count, "lead");
  return (
    <span role="status">
      <b>{all}</b>
      {page.withoutOwner ? `, ${whole(page.withoutOwner)} without owner` : ""}
      {may && page.count > 0 && (
        <>
          {" · "}
          <Files name="leads" query={`where=${encodeURIComponent(JSON.stringify(whereOf(work)))}${within}`} />
        </>
      )}
    </span>
  );
}

/** The view's quick conditions: a press adds one to the sentence. */
function Pinned({ work, onAdd }: { work: Work; onAdd: (where: Condition) => void }) {
  const there = new Set(partsOf(work.where).map((p) => JSON.stringify(p)));
  const left = (work.view?.body.quick ?? []).filter((q) => !there.has(JSON.stringify(q.where)));
  if (left.length === 0) return null;
  return (
    <Quick>
      {left.map((q) => (
        <Button key={q.label} look="quiet" onPress={() => onAdd(q.where as Condition)}>
          + {q.label}
        </Button>
      ))}
    </Quick>
  );
}
