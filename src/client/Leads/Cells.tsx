import { useRef, useState, type KeyboardEvent, type PointerEvent, type ReactNode } from "react";
import { Button as Press } from "react-aria-components";
import styled from "styled-components";
import { ClockBar } from "../parts/ClockBar";
import { exact, moment, whole } from "../parts/format";
import { small } from "../parts/theme";
import type { Field } from "../Conditions/conditions";
import { moves, states } from "./words";
import type { Column } from "./work";
import type { Item } from "./Worklist";

const gap = 14;
const lamp = 32;
const leastName = 180;
const leastWidth = 60;

// How wide a column wants to be when nobody says: its least width, and its share of what is left.
const wanted: Record<string, [number, number]> = { next_move: [96, 0], clock_due_at: [84, 0], state: [84, 0], fit: [52, 0], engagement: [92, 0], silent_days: [84, 0], calls: [56, 0], country: [104, 0.5], wants: [130, 1], company: [140, 1] };

const widthOf = (column: Column, field?: Field): [number, number] =>
  column.width ? [column.width, 0] : (wanted[column.field] ?? (field?.type === "number" || field?.type === "money" ? [84, 0] : field?.type === "date" ? [92, 0.3] : [104, 0.8]));

/** The grid template of the rows, and the least width at which nothing is squeezed. */
export function template(columns: Column[], fields: Field[]): [string, number] {
  const widths = columns.map((c) => widthOf(c, fields.find((f) => f.key === c.field)));
  const tracks = widths.map(([least, share]) => (share === 0 ? `${least}px` : `minmax(${least}px, ${share}fr)`));
  return [[`${lamp}px`, `minmax(${leastName}px, 1.3fr)`, ...tracks].join(" "), lamp + leastName + widths.reduce((sum, [least]) => sum + least + gap, 0) + gap + 36];
}

const Bar = styled.div<{ $template: string }>`
  display: grid;
  grid-template-columns: ${(p) => p.$template};
  gap: ${gap}px;
  padding: 0 18px;
  height: 30px;
  align-items: center;
  border-bottom: 1px solid var(--hair);
  flex: none;
  /* As wide as the rows beside their scroll bar. */
  overflow: hidden;
  scrollbar-gutter: stable;
  ${small}
  & > div {
    position: relative;
    min-width: 0;
    display: flex;
  }
`;

const Sort = styled(Press)`
  border: 0;
  background: none;
  padding: 0;
  font-size: 13px;
  min-width: 24px;
  min-height: 24px;
  text-align: left;
  color: inherit;
  cursor: pointer;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  &[data-hovered] {
    color: var(--slate);
  }
`;

const Grip = styled.div`
  position: absolute;
  right: -${gap / 2}px;
  top: 0;
  width: 24px;
  height: 24px;
  cursor: col-resize;
  touch-action: none;
  &::after {
    content: "";
    position: absolute;
    left: 16px;
    top: 5px;
    height: 14px;
    border-left: 1px solid transparent;
  }
  ${Bar}:hover &::after, &:focus-visible::after {
    border-left-color: var(--mark);
  }
`;

type HeadingProps = { columns: Column[]; fields: Field[]; template: string; lead: number; order: string; onOrder: (order: string) => void; onWidth: (field: string, width: number | null) => void };

/** Names of the columns. A press orders by one, another press turns it round; the edge of a column is dragged, or moved by arrow keys. */
export function Headings({ columns, fields, template: tracks, lead, order, onOrder, onWidth }: HeadingProps) {
  const sort = (key: string, many: boolean | undefined, label: string) => {
    if (many) return <span>{label}</span>;
    const down = order.split(",")[0] === `-${key}`;
    const up = order.split(",")[0] === key;
    return (
      <Sort onPress={() => onOrder(up ? `-${key}` : key)} aria-label={`Order by ${label.toLowerCase()}${up ? ", now rising" : down ? ", now falling" : ""}`}>
        {label}
        {up ? " ↑" : down ? " ↓" : ""}
      </Sort>
    );
  };
  return (
    <Bar $template={tracks}>
      {/* Over the tick and the lamp stands nothing. */}
      <span style={{ gridColumn: `span ${lead}` }} />
      <div>{sort("last_name", false, "Name")}</div>
      {columns.map((c) => {
        const field = fields.find((f) => f.key === c.field);
        return (
          <div key={c.field}>
            {sort(c.field, field?.many, field?.label ?? c.field)}
            <Edge label={field?.label ?? c.field} width={c.width ?? null} onWidth={(width) => onWidth(c.field, width)} />
          </div>
        );
      })}
    </Bar>
  );
}

function Edge({ label, width, onWidth }: { label: string; width: number | null; onWidth: (width: number | null) => void }) {
  const box = useRef<HTMLDivElement>(null);
  const [from, setFrom] = useState<{ x: number; width: number }>();
  const now = () => Math.round(box.current!.parentElement!.getBoundingClientRect().width);
  const within = (value: number) => Math.max(leastWidth, Math.min(800, Math.round(value)));
  const drag = (e: PointerEvent) => from && onWidth(within(from.width + e.clientX - from.x));
  const key = (e: KeyboardEvent) => {
    const step = { ArrowLeft: -10, ArrowRight: 10 }[e.key];
    if (e.key === "Delete") onWidth(null);
    if (!step) return;
    e.preventDefault();
    onWidth(within((width ?? now()) + step));
  };
  return (
    <Grip
      ref={box}
      role="slider"
      tabIndex={0}
      aria-label={`Width of ${label}`}
      aria-valuenow={width ?? 0}
      aria-valuetext={width ? `${width} pixels` : "as wide as fits"}
      aria-valuemin={0}
      aria-valuemax={800}
      onKeyDown={key}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        setFrom({ x: e.clientX, width: now() });
      }}
      onPointerMove={drag}
      onPointerUp={() => setFrom(undefined)}
      onDoubleClick={() => onWidth(null)}
    />
  );
}

/** What to do next, or that it is over, with the two numbers. */
export function Move({ lead }: { lead: Item }) {
  const over = lead.state === "handed_over" || lead.state === "disqualified";
  return (
    <div style={{ fontSize: 13, ...(lead.nextMove === "hand_over" && !over ? { color: "var(--lamp-ink)", fontWeight: 640 } : {}) }}>
      {over ? states[lead.state] : moves[lead.nextMove]}
      <small style={{ fontWeight: 400 }}>
        {lead.fit} · {lead.engagement}
      </small>
    </div>
  );
}

/** Whose it is; that it is nobody's stands out. */
export const Owner = ({ lead }: { lead: Item }) => lead.ownerName ?? <b style={{ color: "var(--lamp-ink)", fontSize: 13 }}>no owner</b>;

type CellProps = { lead: Item; field?: Field; of: string; zone: string };

/** What a row shows of a field. */
export function CellOf({ lead, field, of, zone }: CellProps): ReactNode {
  const value = lead.cells[of];
  switch (of) {
    case "next_move":
      return <Move lead={lead} />;
    case "owner":
      return (
        <div style={{ fontSize: 14 }}>
          <Owner lead={lead} />
        </div>
      );
    case "source":
      return (
        <div style={{ fontSize: 14 }}>
          {lead.sourceName}
          <small>came in {moment(lead.createdAt, zone)}</small>
        </div>
      );
    case "engagement":
      return <div>{lead.engagement}</div>;
    case "clock_due_at":
      return lead.clock ? (
        <div>
          <ClockBar clock={lead.clock} />
        </div>
      ) : (
        <div />
      );
    default:
      break;
  }
  if (!value) return <div />;
  if (field?.type === "date")
    return (
      <div style={{ fontSize: 14 }} title={exact(value, zone)}>
        {moment(value, zone)}
      </div>
    );
  const number = field?.type === "number" && !Number.isNaN(Number(value));
  return (
    <div style={{ fontSize: 14 }} title={value}>
      {number ? whole(Number(value)) : value}
    </div>
  );
}
