import { useQuery } from "@tanstack/react-query";
import { useCallback, useState } from "react";
import { Link, useParams } from "react-router";
import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { Bench, Pane } from "../parts/Bench";
import { Button } from "../parts/Button";
import { count, moment } from "../parts/format";
import { Lamp } from "../parts/Lamp";
import { Block } from "../parts/Layout";
import { Tick } from "../parts/Ticks";
import { Empty, Skeleton, ErrorNote } from "../parts/States";
import { small } from "../parts/theme";
import { useSession } from "../common/session";
import { useFollow } from "../common/bulk";
import { Landing } from "./Landing";
import { Review } from "./Review";
import { keys } from "../common/keys";

const Line = styled.div`
  display: grid;
  grid-template-columns: 40px minmax(0, 1fr);
  align-items: center;
  input {
    justify-self: end;
    margin-right: 8px;
  }
  border-bottom: 1px solid var(--hair);
  &[data-current] {
    background: var(--sheet);
    box-shadow: inset 4px 0 0 var(--slate);
  }
  &:hover {
    background: var(--sheet);
  }
`;

const Row = styled(Link)`
  display: grid;
  grid-template-columns: 32px minmax(0, 1fr);
  gap: 8px;
  align-items: center;
  min-height: 60px;
  padding: 6px 18px 6px 6px;
  color: inherit;
  text-decoration: none;
  & > span {
    min-width: 0;
  }
  b {
    font-weight: 610;
    display: block;
  }
  small {
    ${small}
    display: block;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
`;

const Top = styled.div`
  padding: 18px 18px 12px;
  label {
    margin-top: 6px;
    color: var(--soft);
  }
`;

/** Qualified leads at the left, the handover sheet of one in the middle; or the review of several. */
export function HandoverPage() {
  const { id } = useParams();
  const [marked, setMarked] = useState<string[]>([]);
  const [reviewing, setReviewing] = useState(false);
  // Followed from here, so that taking it back is followed too when the review is gone.
  const [edit, setEdit] = useState<string | null>(null);
  const follow = useCallback((id: string | null) => {
    setEdit(id);
    if (id !== null) return;
    setMarked([]);
    setReviewing(false);
  }, []);
  const working = useFollow(edit, follow);
  const ready = useQuery({ queryKey: keys.handover, queryFn: () => must(api.GET("/api/handover")) });
  const leads = ready.data ?? [];
  const chosen = id ?? leads[0]?.id;
  const ids = marked.filter((m) => leads.some((l) => l.id === m));
  const mark = (lead: string, on: boolean) => setMarked(on ? [...marked, lead] : marked.filter((m) => m !== lead));
  return (
    <Bench>
      <Pane $width={300} aria-label="Qualified leads" data-landing="list">
        <ListTop counted={ready.data && leads.length} marked={ids.length} onAll={(on) => setMarked(on ? leads.map((l) => l.id) : [])} onReview={() => setReviewing(true)} />
        {ready.isPending && <Skeleton rows={4} />}
        {ready.isError && <ErrorNote error={ready.error} />}
        {ready.data?.length === 0 && <Empty>Leads marked as qualified wait here to become account, contact and deal.</Empty>}
        {leads.map((lead) => (
          <Ready key={lead.id} lead={lead} current={lead.id === chosen && !reviewing} marked={ids.includes(lead.id)} onMark={(on) => mark(lead.id, on)} onOpen={() => setReviewing(false)} />
        ))}
      </Pane>
      {reviewing && ids.length > 1 ? <Review leads={ids} working={working} onOrdered={setEdit} onOpen={() => setReviewing(false)} /> : chosen ? <Landing key={chosen} id={chosen} /> : <Pane $sheet />}
    </Bench>
  );
}

type TopProps = { counted?: number; marked: number; onAll: (on: boolean) => void; onReview: () => void };

function ListTop({ counted, marked, onAll, onReview }: TopProps) {
  return (
    <Top>
      <h2>{counted === undefined ? "Qualified leads" : count(counted, "qualified lead")}</h2>
      {!!counted && counted > 1 && (
        <Tick value={marked === counted} onChange={onAll}>
          all of them
        </Tick>
      )}
      {marked > 1 && (
        <Block $above={2}>
          <Button onPress={onReview}>Review {marked}</Button>
        </Block>
      )}
    </Top>
  );
}

type ReadyProps = { lead: Schema["ReadyLead"]; current: boolean; marked: boolean; onMark: (on: boolean) => void; onOpen: () => void };

function Ready({ lead, current, marked, onMark, onOpen }: ReadyProps) {
  const { timeZone } = useSession();
  return (
    <Line data-current={current || undefined}>
      <input type="checkbox" aria-label={`Mark ${lead.name}`} checked={marked} onChange={(e) => onMark(e.target.checked)} />
      <Row to={`/handover/${lead.id}`} aria-current={current || undefined} onClick={onOpen}>
        <Lamp fit={lead.fit} fitHigh={lead.fitHigh} engagement={lead.engagement} />
        <span>
          <b>{lead.name}</b>
          <small>{[lead.company, lead.ownerName].filter(Boolean).join(" · ")}</small>
          <small>waits since {moment(lead.since, timeZone)}</small>
        </span>
      </Row>
    </Line>
  );
}
