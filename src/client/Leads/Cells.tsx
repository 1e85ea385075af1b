import type { ReactNode } from "react";
import styled from "styled-components";
import { useLabels } from "../common/fields";
import { ClockBar } from "../parts/ClockBar";
import { exact, moment, whole } from "../parts/format";
import type { Field } from "../Conditions/conditions";
import type { Item } from "./columns";

const Cell = styled.div`
  font-size: 14px;
`;

const Advice = styled.div<{ $go: boolean }>`
  font-size: 13px;
  ${(p) => p.$go && "color: var(--lamp-ink); font-weight: 640;"}
  small {
    font-weight: 400;
  }
`;

const Nobody = styled.b`
  color: var(--lamp-ink);
  font-size: 13px;
`;

/** What to do next, or that it is over, with the two numbers. */
export function Move({ lead }: { lead: Item }) {
  const move = useLabels("next_move");
  const state = useLabels("state");
  const over = lead.state === "handed_over" || lead.state === "disqualified";
  return (
    <Advice $go={lead.nextMove === "hand_over" && !over}>
      {over ? state(lead.state) : move(lead.nextMove)}
      <small>
        {lead.fit} · {lead.engagement}
      </small>
    </Advice>
  );
}

/** Whose it is; that it is nobody's stands out. */
export const Owner = ({ lead }: { lead: Item }) => lead.ownerName ?? <Nobody>no owner</Nobody>;

type CellProps = { lead: Item; field?: Field; of: string; zone: string };

const special: Record<string, (lead: Item, zone: string) => ReactNode> = {
  next_move: (lead) => <Move lead={lead} />,
  owner: (lead) => (
    <Cell>
      <Owner lead={lead} />
    </Cell>
  ),
  source: (lead, zone) => (
    <Cell>
      {lead.sourceName}
      <small>came in {moment(lead.createdAt, zone)}</small>
    </Cell>
  ),
  engagement: (lead) => <div>{lead.engagement}</div>,
  clock_due_at: (lead) => <div>{lead.clock && <ClockBar clock={lead.clock} />}</div>,
};

/** What a row shows of a field. */
export function CellOf({ lead, field, of, zone }: CellProps): ReactNode {
  if (special[of]) return special[of](lead, zone);
  const value = lead.cells[of];
  if (!value) return <div />;
  if (field?.type === "date") return <Cell title={exact(value, zone)}>{moment(value, zone)}</Cell>;
  const number = field?.type === "number" && !Number.isNaN(Number(value));
  return <Cell title={value}>{number ? whole(Number(value)) : value}</Cell>;
}
