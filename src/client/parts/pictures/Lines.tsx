import { scaleLinear, scaleTime } from "d3-scale";
import { area, curveMonotoneX, line } from "d3-shape";
import type { ReactNode } from "react";
import { day, whole } from "../format";
import { Axis } from "./Axis";
import { Picture, type PictureTable } from "./Picture";

export type Point = { at: number; value: number };

/** `look` tells lines apart without colour: whole, dashed or dotted. `soft` for what is not so yet. */
export type Series = { name: string; points: readonly Point[]; color?: string; look?: "whole" | "dashed" | "dotted" };

const dashes = { whole: undefined, dashed: "6 4", dotted: "2 3" };

type Props = {
  label: string;
  series: readonly Series[];
  height?: number;
  /** Greatest value of the scale; else that of the points. */
  most?: number;
  format?: (value: number) => string;
  /** `at` in milliseconds is a time; else a plain number. */
  isTime?: boolean;
  formatAt?: (at: number) => string;
  /** A level to hold the lines against, such as a bar. */
  level?: { value: number; label: string };
  /** Filled down to the ground. */
  isFilled?: boolean;
  /** Drawn over it with the same scales. */
  over?: (x: (at: number) => number, y: (value: number) => number) => ReactNode;
  tableBeside?: boolean;
};

const pad = { left: 40, right: 8, top: 10, bottom: 22 };

const tableOf = (series: readonly Series[], formatAt: (at: number) => string, format: (value: number) => string): PictureTable => ({
  head: ["", ...series.map((s) => s.name)],
  rows: [...new Set(series.flatMap((s) => s.points.map((p) => p.at)))].sort((a, b) => a - b).map((at) => [formatAt(at), ...series.map((s) => s.points.find((p) => p.at === at)).map((p) => (p ? format(p.value) : ""))]),
});

/** Values along time or along another number, a line each. */
export function Lines({ label, series, height = 150, most, format = whole, isTime = true, formatAt = (at) => (isTime ? day(new Date(at).toISOString()) : whole(at)), level, isFilled, over, tableBeside }: Props) {
  const points = series.flatMap((s) => s.points);
  const [first, last] = [Math.min(...points.map((p) => p.at)), Math.max(...points.map((p) => p.at))];
  const top = most ?? Math.max(...points.map((p) => p.value), level?.value ?? 0, 1) * 1.05;
  if (points.length === 0) return null;
  return (
    <Picture label={label} height={height} table={tableBeside ? undefined : tableOf(series, formatAt, format)}>
      {(width) => {
        const x = isTime ? scaleTime([first, last], [pad.left, width - pad.right]) : scaleLinear([first, last], [pad.left, width - pad.right]);
        const y = scaleLinear([0, top], [height - pad.bottom, pad.top]);
        const at = (p: Point) => x(p.at);
        const path = line<Point>(at, (p) => y(p.value)).curve(curveMonotoneX);
        const fill = area<Point>(at, y(0), (p) => y(p.value)).curve(curveMonotoneX);
        return (
          <>
            <Axis scale={y} at="left" offset={pad.left} reach={width - pad.left - pad.right} ticks={3} format={format} />
            <Axis scale={x} at="bottom" offset={height - pad.bottom} ticks={Math.max(2, Math.floor(width / 120))} format={formatAt} />
            {level && (
              <g aria-hidden>
                <line x1={pad.left} x2={width - pad.right} y1={y(level.value)} y2={y(level.value)} stroke="var(--soft)" strokeDasharray="2 3" />
                <text x={width - pad.right} y={y(level.value) - 4} textAnchor="end">
                  {level.label}
                </text>
              </g>
            )}
            {series.map((s) => (
              <g key={s.name}>
                {isFilled && <path d={fill([...s.points]) ?? ""} fill={s.color ?? "var(--slate)"} opacity="0.25" />}
                <path d={path([...s.points]) ?? ""} fill="none" stroke={s.color ?? "var(--slate)"} strokeWidth="2" strokeDasharray={dashes[s.look ?? "whole"]} />
              </g>
            ))}
            {over?.(x as (at: number) => number, y)}
          </>
        );
      }}
    </Picture>
  );
}

/** The same filled down to the ground: amounts that add up over time. */
export const Area = (props: Omit<Props, "isFilled">) => <Lines {...props} isFilled />;
