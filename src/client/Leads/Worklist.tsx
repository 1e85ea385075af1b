import { useEffect, useMemo, useRef } from "react";
import type React from "react";
import { GridList, GridListItem, type GridListItemProps, ListLayout, Virtualizer } from "react-aria-components";
import styled from "styled-components";
import { useSession } from "../common/session";
import type { Field } from "../Conditions/conditions";
import { afterPicture } from "../parts/afterPicture";
import { whole } from "../parts/format";
import { small } from "../parts/theme";
import type { Ticked } from "../common/bulk";
import { template, type Item } from "./columns";
import { Headings } from "./Headings";
import { LeadRow } from "./LeadRow";
import type { Work } from "./work";

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
          onSelectionChange={(keys) => (ticking ? onTick(keys === "all" ? "all" : new Set([...keys].map(String))) : keys !== "all" && keys.size > 0 && afterPicture(() => onOpen(String([...keys][0]))))}
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

