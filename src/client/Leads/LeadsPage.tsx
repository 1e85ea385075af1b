import { useState } from "react";
import { useNavigate, useParams } from "react-router";
import { useFields } from "../common/fields";
import { allOf } from "../Conditions/conditions";
import { Bench, Pane } from "../parts/Bench";
import { ListShell, Under } from "../parts/Shell";
import { ErrorNote, Skeleton } from "../parts/States";
import { BulkBar } from "./Bulk/BulkBar";
import type { Ticked } from "../common/bulk";
import { Layout } from "./Layout";
import { LeadPane } from "./LeadPane";
import { LeadWhy } from "./LeadWhy";
import { LeadList } from "./LeadList";
import { orderWords } from "./order";
import { Word } from "./Pop";
import { Pinned, ToDuplicates, Total, useMayTick } from "./Above";
import { useLead, useLeadPages, useLive } from "./queries";
import { Sentence } from "./Sentence";
import { ViewBar } from "./ViewBar";
import { useWork, whereOf } from "./work";

/** The worklist, and beside it the lead that is open. */
export function LeadsPage() {
  const { id } = useParams();
  const worklist = useWork();
  const { work, views, ready, params, set, setWhere, open } = worklist;
  const navigate = useNavigate();
  const fields = useFields().data ?? [];
  const pages = useLeadPages(work, ready);
  // Leads ticked to be changed together; null while one is not about that.
  const [ticked, setTicked] = useState<Ticked | null>(null);
  const mayTick = useMayTick(work);
  const first = pages.data?.pages[0];
  const wide = !id;
  const head = (
    <>
      <ViewBar work={work} views={views} wide={wide} onOpen={open}>
        {wide && <Pinned work={work} onAdd={(where) => setWhere(allOf([work.where, where]))} />}
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
    </>
  );
  return (
    <Bench>
      <ListShell label="Worklist" isBehind={!wide} head={head}>
        <LeadList worklist={worklist} fields={fields} pages={pages} selected={id} ticked={wide ? ticked : null} onTick={setTicked} onOpen={(lead) => void navigate(`/leads/${lead}?${params}`)} />
        {wide && ticked && work.show === "rows" && first && (
          <BulkBar ticked={ticked} all={first.count} about={first.estimated} where={JSON.stringify(whereOf(work))} view={work.view} onTick={setTicked} onLeave={() => setTicked(null)} />
        )}
      </ListShell>
      {id && <OpenLead key={id} id={id} onBack={() => void navigate(`/leads?${params}`)} />}
    </Bench>
  );
}

function OpenLead({ id, onBack }: { id: string; onBack: () => void }) {
  const lead = useLead(id);
  useLive(id);
  const [asked, setAsked] = useState(0);
  if (!lead.data) return <Pane $sheet>{lead.isError ? <ErrorNote error={lead.error} /> : <Skeleton />}</Pane>;
  return (
    <>
      <LeadPane lead={lead.data} onBack={onBack} />
      <LeadWhy lead={lead.data} ask={asked} onAsk={() => setAsked(asked + 1)} />
    </>
  );
}
