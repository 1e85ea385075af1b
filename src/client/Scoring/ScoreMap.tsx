import { useRef, type KeyboardEvent, type PointerEvent } from "react";
import { useNavigate } from "react-router";
import styled from "styled-components";
import type { Schema } from "../api/client";
import { count, whole } from "../parts/format";
import type { Model } from "./model";

const size = 500;
const cell = size / 20;
const pad = { left: 40, top: 34, right: 24, bottom: 38 };

const corners: Record<string, { x: number; y: number; anchor: "start" | "end" }> = {
  check: { x: 0, y: -14, anchor: "start" },
  hand_over: { x: size, y: -14, anchor: "end" },
  park: { x: 0, y: size + 24, anchor: "start" },
  nurture: { x: size, y: size + 24, anchor: "end" },
};

const x = (fit: number) => (fit / 100) * size;
const y = (engagement: number) => size - (engagement / 100) * size;

const Frame = styled.svg`
  width: 100%;
  max-height: calc(100vh - 200px);
  touch-action: none;
  .quarter {
    cursor: pointer;
  }
`;

type Quarter = Schema["QuarterCount"];

type Props = {
  map: readonly Schema["MapCell"][];
  bars: Model["bars"];
  /** The live bars, drawn beside where they are others. */
  before?: Model["bars"];
  quarters: readonly Quarter[];
  /** How many stood there, where that is something else. */
  quartersBefore?: readonly Quarter[];
  onBars?: (bars: Model["bars"]) => void;
};

/** All open leads: fit across, engagement up, squares as large as there are leads. The bars are drawn over it and moved by hand or by key. Captions stand outside the field, so nothing covers a mark. */
export function ScoreMap({ map, bars, before, quarters, quartersBefore, onBars }: Props) {
  const field = useRef<SVGSVGElement>(null);
  const most = Math.max(1, ...map.map((c) => c.leads));
  const at = (e: PointerEvent) => {
    const box = field.current!.getScreenCTM()!.inverse();
    const point = new DOMPoint(e.clientX, e.clientY).matrixTransform(box);
    return { fit: Math.round((point.x / size) * 100), engagement: Math.round(((size - point.y) / size) * 100) };
  };
  const set = (which: "fit" | "engagement", value: number) => onBars?.({ ...bars, [which]: Math.min(100, Math.max(0, value)) });
  return (
    <Frame ref={field} viewBox={`${-pad.left} ${-pad.top} ${size + pad.left + pad.right} ${size + pad.top + pad.bottom}`} role="group" aria-label="Score map: fit across, engagement up">
      <rect width={size} height={size} fill="none" stroke="var(--hair)" />
      <rect x={x(bars.fit)} width={size - x(bars.fit)} height={y(bars.engagement)} fill="var(--lamp-wash)" opacity=".55" />
      {map.map((c) => (
        <Mark key={`${c.fit}-${c.engagement}`} at={c} most={most} clears={c.fit + 2.5 >= bars.fit && c.engagement + 2.5 >= bars.engagement} />
      ))}
      {before && before.fit !== bars.fit && <line x1={x(before.fit)} x2={x(before.fit)} y1={0} y2={size} stroke="var(--soft)" strokeDasharray="3 4" />}
      {before && before.engagement !== bars.engagement && <line x1={0} x2={size} y1={y(before.engagement)} y2={y(before.engagement)} stroke="var(--soft)" strokeDasharray="3 4" />}
      <line x1={x(bars.fit)} x2={x(bars.fit)} y1={0} y2={size} stroke="var(--ink)" strokeWidth="1.5" />
      <line x1={0} x2={size} y1={y(bars.engagement)} y2={y(bars.engagement)} stroke="var(--ink)" strokeWidth="1.5" />
      {quarters.map((q) => (
        <Corner key={q.move} quarter={q} was={quartersBefore?.find((b) => b.move === q.move)?.leads} />
      ))}
      <Handle label="Bar of fit" value={bars.fit} x={x(bars.fit)} y={-6} along="x" onMove={onBars && ((e) => set("fit", at(e).fit))} onStep={(by) => set("fit", bars.fit + by)} />
      <Handle label="Bar of engagement" value={bars.engagement} x={size + 6} y={y(bars.engagement)} along="y" onMove={onBars && ((e) => set("engagement", at(e).engagement))} onStep={(by) => set("engagement", bars.engagement + by)} />
      <text x={size / 2} y={size + 24} textAnchor="middle" fontSize="12" fill="var(--soft)">
        fit →
      </text>
      <text transform={`translate(-14 ${size / 2}) rotate(-90)`} textAnchor="middle" fontSize="12" fill="var(--soft)">
        engagement →
      </text>
    </Frame>
  );
}

function Mark({ at, most, clears }: { at: Schema["MapCell"]; most: number; clears: boolean }) {
  const side = 4 + Math.sqrt(at.leads / most) * (cell - 6);
  const color = clears ? "var(--lamp)" : "color-mix(in srgb, var(--slate) 62%, var(--sheet))";
  return (
    <rect x={x(at.fit) + (cell - side) / 2} y={y(at.engagement) - cell + (cell - side) / 2} width={side} height={side} rx="1" fill={color}>
      <title>{`fit ${at.fit} to ${at.fit + 4}, engagement ${at.engagement} to ${at.engagement + 4}: ${count(at.leads, "lead")}`}</title>
    </rect>
  );
}

function Corner({ quarter, was }: { quarter: Quarter; was?: number }) {
  const navigate = useNavigate();
  const at = corners[quarter.move];
  if (!at) return null;
  return (
    <text className="quarter" x={at.x} y={at.y} textAnchor={at.anchor} fontSize="15" fill="var(--ink)" onClick={() => void navigate(`/leads?move=${quarter.move}&state=open`)}>
      <tspan fontFamily="Fraunces Variable" fontWeight="560">
        {quarter.label}
      </tspan>{" "}
      <tspan fontSize="13" fill="var(--soft)">
        {whole(quarter.leads)}
        {was !== undefined && was !== quarter.leads && `, ${whole(was)} now`}
      </tspan>
    </text>
  );
}

type HandleProps = { label: string; value: number; x: number; y: number; along: "x" | "y"; onMove?: (e: PointerEvent) => void; onStep: (by: number) => void };

const steps: Record<string, number> = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1, PageUp: 5, PageDown: -5, Home: -100, End: 100 };

const Grip = styled.g`
  outline: none;
  &[role="slider"] {
    cursor: grab;
  }
  &:active {
    cursor: grabbing;
  }
  &:focus-visible rect {
    stroke: var(--slate);
    stroke-width: 3;
  }
`;

function Handle({ label, value, x: left, y: top, along, onMove, onStep }: HandleProps) {
  const slider = onMove && {
    role: "slider",
    tabIndex: 0,
    "aria-label": label,
    "aria-valuemin": 0,
    "aria-valuemax": 100,
    "aria-valuenow": value,
    "aria-orientation": along === "x" ? ("horizontal" as const) : ("vertical" as const),
    onPointerDown: (e: PointerEvent) => e.currentTarget.setPointerCapture(e.pointerId),
    onPointerMove: (e: PointerEvent) => e.currentTarget.hasPointerCapture(e.pointerId) && onMove(e),
    onKeyDown: (e: KeyboardEvent) => {
      const by = steps[e.key];
      if (by === undefined) return;
      e.preventDefault();
      onStep(by);
    },
  };
  const [width, height] = along === "x" ? [34, 18] : [22, 22];
  return (
    <Grip {...slider} transform={`translate(${left} ${top})`}>
      <rect x={-width / 2} y={along === "x" ? -height : -height / 2} width={width} height={height} rx="3" fill={onMove ? "var(--ink)" : "none"} />
      <text y={along === "x" ? -5 : 4} textAnchor="middle" fontSize="12" fontWeight="640" fill={onMove ? "var(--paper)" : "var(--ink)"}>
        {value}
      </text>
    </Grip>
  );
}
