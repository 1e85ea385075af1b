import { scaleLinear } from "d3-scale";
import { Link } from "react-router";
import { whole } from "../format";
import { Picture } from "./Picture";

export type FunnelStep = { label: string; value: number; to?: string | null };

type Props = { label: string; steps: readonly FunnelStep[]; format?: (value: number) => string; tableBeside?: boolean };

const step = 40;
const words = 128;

/** The share of a step in the one before it, in whole percent; nothing where that was none. */
export const share = (steps: readonly FunnelStep[], i: number) => (i === 0 || !steps[i - 1]!.value ? "" : `${Math.round((steps[i]!.value / steps[i - 1]!.value) * 100)} %`);

/** How many are left after each step, with the share of those before. */
export function Funnel({ label, steps, format = whole, tableBeside }: Props) {
  const height = steps.length * step;
  const table = tableBeside ? undefined : { head: ["", "", "of the step before"], rows: steps.map((s, i) => [s.to ? <Link to={s.to}>{s.label}</Link> : s.label, format(s.value), share(steps, i)]) };
  return (
    <Picture label={`${label}: ${steps.map((s, i) => `${s.label} ${format(s.value)}${share(steps, i) && `, ${share(steps, i)}`}`).join("; ")}`} height={height} table={table}>
      {(width) => {
        const x = scaleLinear([0, Math.max(1, ...steps.map((s) => s.value))], [0, Math.max(40, width - words - 96)]);
        return steps.map((s, i) => (
          <g key={s.label} transform={`translate(0 ${i * step})`}>
            <text className="strong" y={step / 2 + 4}>
              {s.label}
            </text>
            <rect x={words} y={6} width={Math.max(1, x(s.value))} height={step - 14} fill="var(--slate)" opacity={1 - i * 0.12} />
            <text x={words + x(s.value) + 8} y={step / 2 + 4}>
              <tspan className="strong">{format(s.value)}</tspan>
              {share(steps, i) && ` · ${share(steps, i)}`}
            </text>
          </g>
        ));
      }}
    </Picture>
  );
}
