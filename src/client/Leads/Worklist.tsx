import { useEffect, useRef } from "react";
import type React from "react";
import { GridList, GridListItem, type GridListItemProps, ListLayout, Virtualizer } from "react-aria-components";
import styled from "styled-components";
import type { Schema } from "../api/client";
import { ClockBar } from "../parts/ClockBar";
import { moment } from "../parts/format";
import { Lamp } from "../parts/Lamp";
import { small } from "../parts/theme";
import { useSession } from "../Setup/session";
import { moves, states } from "./words";

type Item = Schema["LeadListItem"];

const Grid = styled(GridList)`
  flex: 1;
  min-height: 0;
  overflow: auto;
  outline: none;
` as typeof GridList;

const Row = styled(GridListItem)<{ $wide: boolean }>`
  display: grid;
  grid-template-columns: ${(p) => (p.$wide ? "32px minmax(180px, 1.3fr) 96px minmax(0, 1.2fr) minmax(0, 1fr) minmax(110px, 0.8fr) 76px 84px" : "32px minmax(0, 1fr) 82px 78px")};
  gap: ${(p) => (p.$wide ? 18 : 10)}px;
  align-items: center;
  height: 60px;
  padding: 0 18px;
  border-bottom: 1px solid var(--hair);
  cursor: pointer;
  outline: none;
  b {
    font-weight: 610;
    display: block;
  }
  b,
  small {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  small {
    ${small}
    display: block;
  }
  &[data-hovered] {
    background: color-mix(in srgb, var(--sheet) 60%, var(--paper));
  }
  &[data-selected] {
    background: var(--sheet);
    box-shadow: inset 4px 0 0 var(--slate);
  }
  &[data-focus-visible] {
    outline: 2px solid var(--slate);
    outline-offset: -3px;
  }
` as React.ComponentType<GridListItemProps & { $wide: boolean }>;

const Move = styled.div<{ $go: boolean }>`
  font-size: 13px;
  ${(p) => p.$go && "color: var(--lamp-ink); font-weight: 640;"}
`;

type Props = { leads: Item[]; wide: boolean; selected?: string; onOpen: (id: string) => void; onMore: () => void };

/** Rows of leads; only those in sight are drawn. Arrows move, Enter opens. */
export function Worklist({ leads, wide, selected, onOpen, onMore }: Props) {
  const { timeZone } = useSession();
  const grid = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const box = grid.current;
    if (!box) return;
    const near = () => box.scrollHeight - box.scrollTop - box.clientHeight < 900 && onMore();
    box.addEventListener("scroll", near, { passive: true });
    return () => box.removeEventListener("scroll", near);
  });
  return (
    <Virtualizer layout={ListLayout} layoutOptions={{ rowHeight: 60 }}>
      <Grid
        ref={grid}
        aria-label="Leads"
        selectionMode="single"
        selectionBehavior="replace"
        items={leads}
        dependencies={[wide, timeZone]}
        selectedKeys={selected ? [selected] : []}
        onSelectionChange={(keys) => keys !== "all" && keys.size > 0 && onOpen(String([...keys][0]))}
      >
        {(lead: Item) => <LeadRow lead={lead} wide={wide} zone={timeZone} />}
      </Grid>
    </Virtualizer>
  );
}

function LeadRow({ lead, wide, zone }: { lead: Item; wide: boolean; zone: string }) {
  const go = lead.nextMove === "hand_over";
  const over = lead.state === "handed_over" || lead.state === "disqualified";
  const company = lead.company === lead.name ? null : lead.company;
  const owner = lead.ownerName ?? <b style={{ color: "var(--lamp-ink)", fontSize: 13 }}>no owner</b>;
  return (
    <Row id={lead.id} textValue={lead.name} $wide={wide}>
      <Lamp fit={lead.fit} fitHigh={lead.fitHigh} engagement={lead.engagement} />
      <div style={{ minWidth: 0 }}>
        <b>{lead.name}</b>
        <small>{wide ? company : [company, lead.sourceName].filter(Boolean).join(" · ")}</small>
      </div>
      <Move $go={go && !over}>
        {over ? states[lead.state] : moves[lead.nextMove]}
        <small>
          {lead.fit} · {lead.engagement}
        </small>
      </Move>
      {wide ? (
        <>
          <div style={{ minWidth: 0, fontSize: 14 }}>
            <div style={{ overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>{lead.sourceName}</div>
            <small>came in {moment(lead.createdAt, zone)}</small>
          </div>
          <small>{lead.wants && `wants ${lead.wants}`}</small>
          <span style={{ fontSize: 14 }}>{owner}</span>
          <small>{states[lead.state]}</small>
          <ClockBar clock={lead.clock} />
        </>
      ) : (
        <div style={{ minWidth: 0 }}>
          <small style={{ textAlign: "right" }}>{owner}</small>
          <ClockBar clock={lead.clock} />
        </div>
      )}
    </Row>
  );
}
