import type { ScaleContinuousNumeric, ScaleTime } from "d3-scale";

type Scale = ScaleContinuousNumeric<number, number> | ScaleTime<number, number>;

type Props = {
  scale: Scale;
  at: "bottom" | "left";
  /** Where the axis stands: pixels from the top for one at the bottom, from the left for one at the left. */
  offset: number;
  /** How far its fine lines reach into the picture, in pixels; 0 for none. */
  reach?: number;
  ticks?: number;
  format: (value: number) => string;
};

/** Marks along a scale, each with its value; fine lines through the picture where they help. */
export function Axis({ scale, at, offset, reach = 0, ticks = 4, format }: Props) {
  const marks = (scale.ticks(ticks) as (number | Date)[]).map(Number);
  const place = (value: number) => (scale as (v: number) => number)(value);
  const last = marks.length - 1;
  return (
    <g aria-hidden>
      {marks.map((value, i) =>
        at === "bottom" ? (
          <g key={value} transform={`translate(${place(value)} ${offset})`}>
            {reach > 0 && <line y2={-reach} stroke="var(--hair)" />}
            <text y={16} textAnchor={i === 0 ? "start" : i === last ? "end" : "middle"}>
              {format(value)}
            </text>
          </g>
        ) : (
          <g key={value} transform={`translate(${offset} ${place(value)})`}>
            {reach > 0 && <line x2={reach} stroke="var(--hair)" />}
            <text x={-6} y={4} textAnchor="end">
              {format(value)}
            </text>
          </g>
        ),
      )}
    </g>
  );
}
