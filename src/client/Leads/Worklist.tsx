import { useEffect, useMemo, useRef } from "react";
import type React from "react";
import { Checkbox, GridList, GridListItem, type GridListItemProps, ListLayout, Virtualizer } from "react-aria-components";
import styled from "styled-components";
import type { Schema } from "../api/client";
import { ClockBar } from "../parts/ClockBar";
import { whole } from "../parts/format";
import { Lamp } from "../parts/Lamp";
import { small } from "../parts/theme";
import { useSession } from "../Setup/session";
import { CellOf, Headings, Move, Owner, template } from "./Cells";
import type { Ticked } from "./Bulk/BulkBar";
import type { Field } from "../Conditions/conditions";
import type { Work } from "./work";

export type Item = Schema["LeadListItem"];
type Heading = { id: string; heading: string; count?: number };
type Line = Item | Heading;

const Scroll = styled.div<{ $least: number }>`
  flex: 1;
  min-height: 0;
  display: flex;
  flex-direction: column;
  overflow-x: auto;
  overflow-y: hidden;
  & > * {
    min-width: ${(p) => p.$least}px;
  }
`;

const Grid = styled(GridList)`
  flex: 1;
  min-height: 0;
  overflow: auto;
  /* A short list stands under its headings too. */
  scrollbar-gutter: stable;
  outline: none;
` as typeof GridList;

const Row = styled(GridListItem)<{ $template: string; $dense: boolean }>`
  display: grid;
  grid-template-columns: ${(p) => p.$template};
  gap: 14px;
  align-items: center;
  height: ${(p) => (p.$dense ? 34 : 60)}px;
  padding: 0 18px;
  border-bottom: 1px solid var(--hair);
  cursor: pointer;
  outline: none;
  font-size: ${(p) => (p.$dense ? 14 : 15)}px;
  [role="gridcell"] > div {
    min-width: 0;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  b {
    font-weight: 610;
  }
  b,
  small {
    display: ${(p) => (p.$dense ? "inline" : "block")};
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  small {
    ${small}
    ${(p) => p.$dense && "margin-left: 8px;"}
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
` as React.ComponentType<GridListItemProps & { $template: string; $dense: boolean }>;

const Head = styled(GridListItem)`
  display: flex;
  align-items: end;
  gap: 10px;
  height: 100%;
  padding: 0 18px 5px;
  border-bottom: 1px solid var(--hair);
  font-family: "Fraunces Variable", Georgia, serif;
  font-size: 15px;
  outline: none;
  span {
    ${small}
    font-family: "Hanken Grotesk Variable", system-ui, sans-serif;
  }
  &[data-focus-visible] {
    outline: 2px solid var(--slate);
    outline-offset: -3px;
  }
` as React.ComponentType<GridListItemProps>;

const tick = "22px";

const Tick = styled(Checkbox)`
  display: grid;
  place-items: center;
  width: 24px;
  height: 24px;
  span {
    width: 16px;
    height: 16px;
    border: 1.5px solid var(--mark);
    border-radius: 2px;
    display: grid;
    place-items: center;
  }
  &[data-selected] span {
    background: var(--slate);
    border-color: var(--slate);
  }
  &[data-selected] span::after {
    content: "";
    width: 8px;
    height: 4px;
    border: solid var(--paper);
    border-width: 0 0 2px 2px;
    transform: rotate(-45deg) translate(1px, -1px);
  }
  &[data-focus-visible] span {
    outline: 2px solid var(--slate);
    outline-offset: 2px;
  }
`;

const narrow = "32px minmax(0, 1fr) 82px 78px";

type Props = {
  leads: Item[];
  work: Work;
  fields: Field[];
  counts: Map<string | null, number>;
  wide: boolean;
  selected?: string;
  /** Leads ticked to be changed together; null while one opens them instead. */
  ticked: Ticked | null;
  onTick: (ticked: Ticked) => void;
  onOpen: (id: string) => void;
  onMore: () => void;
  onOrder: (order: string) => void;
  onWidth: (field: string, width: number | null) => void;
};

/** Rows of leads; only those in sight are drawn. Arrows move, Enter opens. */
export function Worklist({ leads, work, fields, counts, wide, selected, ticked, onTick, onOpen, onMore, onOrder, onWidth }: Props) {
  const { timeZone } = useSession();
  const grid = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const box = grid.current;
    if (!box) return;
    const near = () => box.scrollHeight - box.scrollTop - box.clientHeight < 900 && onMore();
    box.addEventListener("scroll", near, { passive: true });
    near();
    return () => box.removeEventListener("scroll", near);
  });
  const lines = useMemo(() => (work.group ? headed(leads, counts) : leads), [leads, work.group, counts]);
  const heads = useMemo(() => lines.filter((l) => "heading" in l).map((l) => l.id), [lines]);
  const dense = work.dense && wide;
  const [tracks, least] = template(work.columns, fields);
  const ticking = ticked !== null;
  const columns = ticking ? `${tick} ${tracks}` : tracks;
  const height = dense ? 34 : 60;
  return (
    <Scroll $least={wide ? least : 0}>
      {wide && <Headings columns={work.columns} fields={fields} template={columns} lead={ticking ? 2 : 1} order={work.order} onOrder={onOrder} onWidth={onWidth} />}
      {/* A list lays out anew when its rows change height. */}
      <Virtualizer key={`${height} ${ticking}`} layout={ListLayout} layoutOptions={{ rowHeight: height }}>
        <Grid
          ref={grid}
          aria-label="Leads"
          selectionMode={ticking ? "multiple" : "single"}
          selectionBehavior={ticking ? "toggle" : "replace"}
          items={lines}
          disabledKeys={heads}
          dependencies={[wide, timeZone, work.columns, work.dense, fields, ticking]}
          selectedKeys={ticked ?? (selected ? [selected] : [])}
          onSelectionChange={(keys) => (ticking ? onTick(keys === "all" ? "all" : new Set([...keys].map(String))) : keys !== "all" && keys.size > 0 && onOpen(String([...keys][0])))}
        >
          {(line: Line) =>
            "heading" in line ? (
              <Head id={line.id} textValue={line.heading}>
                {line.heading} {line.count !== undefined && <span>{whole(line.count)}</span>}
              </Head>
            ) : (
              <LeadRow lead={line} work={work} fields={fields} wide={wide} dense={dense} template={columns} ticking={ticking} zone={timeZone} />
            )
          }
        </Grid>
      </Virtualizer>
    </Scroll>
  );
}

// A heading before the first row of each group.
const headed = (leads: Item[], counts: Map<string | null, number>): Line[] =>
  leads.flatMap((lead, i): Line[] => (i === 0 || leads[i - 1]!.group !== lead.group ? [{ id: `group ${lead.group}`, heading: lead.groupLabel ?? "", count: counts.get(lead.group) }, lead] : [lead]));

type RowProps = { lead: Item; work: Work; fields: Field[]; wide: boolean; dense: boolean; template: string; ticking: boolean; zone: string };

function LeadRow({ lead, work, fields, wide, dense, template: columns, ticking, zone }: RowProps) {
  const company = lead.company === lead.name ? null : lead.company;
  return (
    <Row id={lead.id} textValue={lead.name} $template={wide ? columns : narrow} $dense={dense}>
      {ticking && (
        <Tick slot="selection">
          <span aria-hidden />
        </Tick>
      )}
      <Lamp fit={lead.fit} fitHigh={lead.fitHigh} engagement={lead.engagement} />
      <div>
        <b>{lead.name}</b>
        <small>{wide ? company : [company, lead.sourceName].filter(Boolean).join(" · ")}</small>
      </div>
      {wide ? (
        work.columns.map((c) => <CellOf key={c.field} lead={lead} field={fields.find((f) => f.key === c.field)} of={c.field} zone={zone} />)
      ) : (
        <>
          <Move lead={lead} />
          <div>
            <small style={{ textAlign: "right" }}>
              <Owner lead={lead} />
            </small>
            <ClockBar clock={lead.clock} />
          </div>
        </>
      )}
    </Row>
  );
}
