import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "react-router";
import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { Bench, Inner, Pane } from "../parts/Bench";
import { count, moment } from "../parts/format";
import { Lamp } from "../parts/Lamp";
import { Empty, Skeleton, Trouble } from "../parts/States";
import { small } from "../parts/theme";
import { useSession } from "../Setup/session";
import { Landing } from "./Landing";

const Row = styled(Link)`
  display: grid;
  grid-template-columns: 32px minmax(0, 1fr);
  gap: 10px;
  align-items: center;
  min-height: 60px;
  padding: 6px 18px;
  border-bottom: 1px solid var(--hair);
  color: inherit;
  text-decoration: none;
  &[aria-current] {
    background: var(--sheet);
    box-shadow: inset 4px 0 0 var(--slate);
  }
  &:hover {
    background: var(--sheet);
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

/** Qualified leads at the left, the handover sheet of one in the middle. */
export function HandoverPage() {
  const { id } = useParams();
  const ready = useQuery({ queryKey: ["handover"], queryFn: () => must(api.GET("/api/handover")) });
  const chosen = id ?? ready.data?.[0]?.id;
  return (
    <Bench>
      <Pane $width={300} aria-label="Qualified leads">
        <div style={{ padding: "18px 18px 12px" }}>
          <h2>{ready.data ? `${count(ready.data.length, "qualified lead")}` : "Qualified leads"}</h2>
        </div>
        {ready.isPending && <Skeleton rows={4} />}
        {ready.isError && <Trouble error={ready.error} />}
        {ready.data?.length === 0 && <Empty>Leads marked as qualified wait here to become account, contact and deal.</Empty>}
        {ready.data?.map((lead) => (
          <Ready key={lead.id} lead={lead} current={lead.id === chosen} />
        ))}
      </Pane>
      {chosen ? <Chosen key={chosen} id={chosen} /> : <Pane $sheet />}
    </Bench>
  );
}

function Ready({ lead, current }: { lead: Schema["ReadyLead"]; current: boolean }) {
  const { timeZone } = useSession();
  return (
    <Row to={`/handover/${lead.id}`} aria-current={current || undefined}>
      <Lamp fit={lead.fit} fitHigh={lead.fitHigh} engagement={lead.engagement} />
      <span style={{ minWidth: 0 }}>
        <b>{lead.name}</b>
        <small>{[lead.company, lead.ownerName].filter(Boolean).join(" · ")}</small>
        <small>waits since {moment(lead.since, timeZone)}</small>
      </span>
    </Row>
  );
}

function Chosen({ id }: { id: string }) {
  const sheet = useQuery({ queryKey: ["handover-sheet", id], queryFn: () => must(api.GET("/api/leads/{id}/handover", { params: { path: { id } } })) });
  return (
    <>
      {sheet.isPending && (
        <Pane $sheet>
          <Inner>
            <Skeleton />
          </Inner>
        </Pane>
      )}
      {sheet.isError && (
        <Pane $sheet>
          <Trouble error={sheet.error} />
        </Pane>
      )}
      {sheet.data && <Landing sheet={sheet.data} />}
    </>
  );
}
