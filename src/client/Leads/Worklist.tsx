import { useEffect, useRef } from "react";
import { GridList, GridListItem, ListLayout, Virtualizer } from "react-aria-components";
import styled from "styled-components";
import type { Schema } from "../api/client";
import { ClockBar } from "../parts/ClockBar";
import { Lamp } from "../parts/Lamp";
import { small } from "../parts/theme";
import { moves, states } from "./words";

type Item = Schema["LeadListItem"];

const Grid = styled(GridList)`
  flex: 1;
  min-height: 0;
  overflow: auto;
  outline: none;
` as typeof GridList;

const Row = styled(GridListItem)`
  display: grid;
  grid-template-columns: 32px minmax(0, 1fr) 82px 78px;
  gap: 10px;
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
` as typeof GridListItem;

const Move = styled.div<{ $go: boolean }>`
  font-size: 13px;
  ${(p) => p.$go && "color: var(--lamp-ink); font-weight: 640;"}
`;

type Props = { leads: Item[]; selected?: string; onOpen: (id: string) => void; onMore: () => void };

/** Rows of leads; only those in sight are drawn. Arrows move, Enter opens. */
export function Worklist({ leads, selected, onOpen, onMore }: Props) {
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
        selectedKeys={selected ? [selected] : []}
        onSelectionChange={(keys) => keys !== "all" && keys.size > 0 && onOpen(String([...keys][0]))}
      >
        {(lead: Item) => <LeadRow lead={lead} />}
      </Grid>
    </Virtualizer>
  );
}

function LeadRow({ lead }: { lead: Item }) {
  const go = lead.nextMove === "hand_over";
  const over = lead.state === "handed_over" || lead.state === "disqualified";
  return (
    <Row id={lead.id} textValue={lead.name}>
      <Lamp fit={lead.fit} fitHigh={lead.fitHigh} engagement={lead.engagement} />
      <div style={{ minWidth: 0 }}>
        <b>{lead.name}</b>
        <small>{[lead.company === lead.name ? null : lead.company, lead.sourceName].filter(Boolean).join(" · ")}</small>
      </div>
      <Move $go={go && !over}>
        {over ? states[lead.state] : moves[lead.nextMove]}
        <small>
          {lead.fit} · {lead.engagement}
        </small>
      </Move>
      <div style={{ minWidth: 0 }}>
        <small style={{ textAlign: "right" }}>{lead.ownerName ?? <b style={{ color: "var(--lamp-ink)", fontSize: 13 }}>no owner</b>}</small>
        <ClockBar clock={lead.clock} />
      </div>
    </Row>
  );
}
