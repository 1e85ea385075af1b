import { useState } from "react";
import { useNavigate, useParams, useSearchParams } from "react-router";
import styled from "styled-components";
import { Bench, Pane } from "../parts/Bench";
import { Button } from "../parts/Button";
import { Empty, Skeleton, Trouble } from "../parts/States";
import { readPicks } from "./conditions";
import { LeadPane } from "./LeadPane";
import { LeadWhy } from "./LeadWhy";
import { useLead, useLeadPages } from "./queries";
import { Sentence } from "./Sentence";
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

/** The worklist, and beside it the lead that is open. */
export function LeadsPage() {
  const { id } = useParams();
  const [params, setParams] = useSearchParams();
  const navigate = useNavigate();
  const picks = readPicks(params);
  const pages = useLeadPages(picks);
  const lead = useLead(id);
  const [asked, setAsked] = useState(0);
  const leads = pages.data?.pages.flatMap((p) => p.leads) ?? [];
  const first = pages.data?.pages[0];
  const set = (changes: Record<string, string | null>) => {
    const next = new URLSearchParams(params);
    for (const [key, value] of Object.entries(changes))
      if (value === null) next.delete(key);
      else next.set(key, value);
    setParams(next, { replace: true });
  };
  return (
    <Bench>
      <List as="section" aria-label="Worklist" $behind={!!id}>
        <Sentence picks={picks} count={first?.count} withoutOwner={first?.withoutOwner} onChange={set} />
        {pages.isPending && <Skeleton rows={9} />}
        {pages.isError && <Trouble error={pages.error} />}
        {first && leads.length === 0 && (
          <Empty action={<Button onPress={() => setParams({ state: "any" })}>Show all leads</Button>}>No lead fits this sentence. Loosen a condition, or look at all of them.</Empty>
        )}
        {leads.length > 0 && (
          <Worklist wide={!id} leads={leads} selected={id} onOpen={(lead) => void navigate(`/leads/${lead}?${params}`)} onMore={() => pages.hasNextPage && !pages.isFetching && void pages.fetchNextPage()} />
        )}
      </List>
      {id && lead.isPending && (
        <Pane $sheet>
          <Skeleton />
        </Pane>
      )}
      {id && lead.isError && (
        <Pane $sheet>
          <Trouble error={lead.error} />
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
