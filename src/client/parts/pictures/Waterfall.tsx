import { scaleBand, scaleLinear } from "d3-scale";
import { whole } from "../format";
import { Picture } from "./Picture";

/** A step up or down, or (`total`) where it stands by then. */
export type WaterfallStep = { label: string; by: number } | { label: string; total: true };

type Fall = { label: string; from: number; to: number; isTotal: boolean };

/** Where each step begins and ends. */
export function falls(steps: readonly WaterfallStep[]): Fall[] {
  let stands = 0;
  return steps.map((step) => {
    if ("total" in step) return { label: step.label, from: 0, to: stands, isTotal: true };
    const from = stands;
    stands += step.by;
    return { label: step.label, from, to: stands, isTotal: false };
  });
}

type Props = { label: string; steps: readonly WaterfallStep[]; format?: (value: number) => string; height?: number; tableBeside?: boolean };

const foot = 24;
const above = 18;

/** How one amount became another, step by step; each begins where the one before ended. */
export function Waterfall({ label, steps, format = whole, height = 190, tableBeside }: Props) {
  const parts = falls(steps);
  const signed = (f: Fall) => (f.isTotal ? format(f.to) : `${f.to < f.from ? "\u2212" : "+"}${format(Math.abs(f.to - f.from))}`);
  const ends = parts.flatMap((f) => [f.from, f.to]);
  return (
    <Picture label={`${label}: ${parts.map((f) => `${f.label} ${signed(f)}`).join(", ")}`} height={height} table={tableBeside ? undefined : { head: ["", ""], rows: parts.map((f) => [f.label, signed(f)]) }}>
      {(width) => {
        const x = scaleBand(parts.map((_, i) => i), [0, width]).padding(0.18);
        const y = scaleLinear([Math.min(0, ...ends), Math.max(1, ...ends)], [height - foot, above]);
        return (
          <>
            <line x2={width} y1={y(0)} y2={y(0)} stroke="var(--mark)" />
            {parts.map((f, i) => (
              <g key={i} transform={`translate(${x(i)} 0)`}>
                <rect y={y(Math.max(f.from, f.to))} width={x.bandwidth()} height={Math.max(1, Math.abs(y(f.from) - y(f.to)))} fill={f.isTotal ? "var(--ink)" : f.to < f.from ? "var(--bad)" : "var(--slate)"} />
                <text className="strong" x={x.bandwidth() / 2} y={y(Math.max(f.from, f.to)) - 5} textAnchor="middle">
                  {signed(f)}
                </text>
                <text x={x.bandwidth() / 2} y={height - 6} textAnchor="middle">
                  {f.label}
                </text>
                {i + 1 < parts.length && <line x1={x.bandwidth()} x2={x.step()} y1={y(f.to)} y2={y(f.to)} stroke="var(--mark)" strokeDasharray="2 2" />}
              </g>
            ))}
          </>
        );
      }}
    </Picture>
  );
}
