import { scaleBand, scaleLinear } from "d3-scale";
import { Link } from "react-router";
import { whole } from "../format";
import { Picture } from "./Picture";

export type BarRow = { label: string; value: number; /** Where its rows are. */ to?: string | null };

type Props = { label: string; rows: readonly BarRow[]; head?: readonly [string, string]; format?: (value: number) => string; height?: number; tableBeside?: boolean; color?: string };

const foot = 24;
const above = 18;

/** A text cut to a width, in pixels. */
const cut = (text: string, width: number) => {
  const letters = Math.floor(width / 6.6);
  return text.length <= letters ? text : letters < 2 ? "" : `${text.slice(0, letters - 1)}…`;
};

/** Amounts beside each other, from a common ground; each says its number where there is room. */
export function Bars({ label, rows, head = ["", ""], format = whole, height = 150, tableBeside, color = "var(--slate)" }: Props) {
  const top = Math.max(...rows.map((r) => r.value), 0);
  const table = tableBeside ? undefined : { head, rows: rows.map((r) => [r.to ? <Link to={r.to}>{r.label}</Link> : r.label, format(r.value)]) };
  return (
    <Picture label={`${label}: ${rows.map((r) => `${r.label} ${format(r.value)}`).join(", ")}`} height={height} table={table}>
      {(width) => {
        const x = scaleBand(rows.map((_, i) => i), [0, width]).paddingInner(0.14).paddingOuter(0);
        const wide = Math.min(x.bandwidth(), 96);
        const y = scaleLinear([0, top || 1], [height - foot, above]);
        const every = Math.max(1, Math.ceil(rows.length / Math.max(1, Math.floor(width / 84))));
        return (
          <>
            {rows.map((row, i) => (
              <g key={i} transform={`translate(${x(i)} 0)`}>
                <rect y={y(row.value)} width={Math.max(wide, 1)} height={Math.max(0, y(0) - y(row.value))} fill={color}>
                  <title>{`${row.label}: ${format(row.value)}`}</title>
                </rect>
                {x.step() >= format(row.value).length * 7.2 && (
                  <text className="strong" y={y(row.value) - 5}>
                    {format(row.value)}
                  </text>
                )}
                {i % every === 0 && <text y={height - 6}>{cut(row.label, x.step() * every - 4)}</text>}
              </g>
            ))}
            <line x2={width} y1={y(0)} y2={y(0)} stroke="var(--mark)" />
          </>
        );
      }}
    </Picture>
  );
}
