import { scaleBand, scaleSqrt } from "d3-scale";
import { whole } from "../format";
import { Picture } from "./Picture";

type Props = {
  label: string;
  rows: readonly string[];
  columns: readonly string[];
  /** The value of a row and column, by their places. */
  valueOf: (row: number, column: number) => number;
  format?: (value: number) => string;
  tableBeside?: boolean;
};

const cell = 24;
const head = 18;
const words = 44;

/** Amounts over two things, such as weekday and hour: squares as large as the amount, so that they tell without colour. */
export function Strip({ label, rows, columns, valueOf, format = whole, tableBeside }: Props) {
  const height = head + rows.length * cell;
  const top = Math.max(1, ...rows.flatMap((_, i) => columns.map((_, j) => valueOf(i, j))));
  const table = tableBeside ? undefined : { head: ["", ...columns], rows: rows.map((r, i) => [r, ...columns.map((_, j) => format(valueOf(i, j)))]) };
  return (
    <Picture label={label} height={height} table={table}>
      {(width) => {
        const x = scaleBand(columns.map((_, j) => j), [words, width]);
        const side = scaleSqrt([0, top], [0, Math.min(cell, x.bandwidth()) - 3]);
        const every = Math.max(1, Math.ceil(34 / x.step()));
        return (
          <>
            {columns.map((c, j) => j % every === 0 && <text key={c} x={x(j)! + x.bandwidth() / 2} y={12} textAnchor="middle">{c}</text>)}
            {rows.map((r, i) => (
              <g key={r} transform={`translate(0 ${head + i * cell})`}>
                <text y={cell / 2 + 4}>{r}</text>
                {columns.map((c, j) => {
                  const s = side(valueOf(i, j));
                  return (
                    <rect key={c} x={x(j)! + (x.bandwidth() - s) / 2} y={(cell - s) / 2} width={s} height={s} fill="var(--slate)">
                      <title>{`${r}, ${c}: ${format(valueOf(i, j))}`}</title>
                    </rect>
                  );
                })}
              </g>
            ))}
          </>
        );
      }}
    </Picture>
  );
}
