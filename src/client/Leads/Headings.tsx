import { useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import { Button as Press } from "react-aria-components";
import styled from "styled-components";
import { small } from "../parts/theme";
import type { Field } from "../Conditions/conditions";
import { gap, leastWidth } from "./columns";
import type { Column } from "./work";

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

const Nothing = styled.span<{ $span: number }>`
  grid-column: span ${(p) => p.$span};
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
      <Nothing $span={lead} />
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
