import { scaleBand, scaleLinear } from "d3-scale";
import { whole } from "../format";

/** A row of small bars in a line of text or a table: the last days, each as high as its count. */
export function Spark({ label, values, width = 210, height = 24 }: { label: string; values: readonly number[]; width?: number; height?: number }) {
  const x = scaleBand(values.map((_, i) => i), [0, width]).paddingInner(0.25);
  const y = scaleLinear([0, Math.max(1, ...values)], [0, height - 2]);
  return (
    <svg width={width} height={height} viewBox={`0 0 ${width} ${height}`} role="img" aria-label={`${label}: ${whole(values.reduce((a, b) => a + b, 0))}`}>
      <line x2={width} y1={height - 0.5} y2={height - 0.5} stroke="var(--hair)" />
      {values.map((v, i) => v > 0 && <rect key={i} x={x(i)} y={height - 1 - Math.max(1, y(v))} width={x.bandwidth()} height={Math.max(1, y(v))} fill="var(--slate)" />)}
    </svg>
  );
}
