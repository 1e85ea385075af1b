import type { Schema } from "../api/client";
import { day } from "../parts/format";
import { useNow } from "../parts/now";

const width = 290;
const height = 54;

type Props = { curve: readonly Schema["EngagementThen"][]; bar: number };

/** Engagement over time by today's model: what was, and dotted what comes if nothing happens. The bar is the thin line. */
export function EngagementCurve({ curve, bar }: Props) {
  const now = useNow();
  const [first, last] = [Date.parse(curve[0]!.at), Date.parse(curve.at(-1)!.at)];
  const x = (at: string) => ((Date.parse(at) - first) / (last - first)) * width;
  const y = (score: number) => height - (score / 100) * height;
  const path = (points: Props["curve"]) => points.map((p, i) => `${i ? "L" : "M"}${x(p.at).toFixed(1)} ${y(p.engagement).toFixed(1)}`).join("");
  const split = curve.findIndex((p) => Date.parse(p.at) >= now - 60_000);
  const [past, ahead] = split < 0 ? [curve, []] : [curve.slice(0, split + 1), curve.slice(split)];
  const top = curve.reduce((a, b) => (b.engagement > a.engagement ? b : a));
  return (
    <svg viewBox={`0 -4 ${width} ${height + 20}`} style={{ width: "100%", margin: "-6px 0 6px" }} role="img" aria-label={`Engagement over time, highest ${top.engagement} on ${day(top.at)}`}>
      <line x1={0} x2={width} y1={height} y2={height} stroke="var(--hair)" />
      <line x1={0} x2={width} y1={y(bar)} y2={y(bar)} stroke="var(--soft)" strokeWidth="0.7" strokeDasharray="2 3" />
      <path d={path(past)} fill="none" stroke="var(--lamp)" strokeWidth="1.8" />
      <path d={path(ahead)} fill="none" stroke="var(--lamp)" strokeWidth="1.8" strokeDasharray="2 3" />
      {ahead[0] && <circle cx={x(ahead[0].at)} cy={y(ahead[0].engagement)} r="3" fill="var(--lamp)" />}
      <text y={height + 13} fontSize="11" fill="var(--soft)">
        {day(curve[0]!.at)}
      </text>
      <text x={width} y={height + 13} fontSize="11" textAnchor="end" fill="var(--soft)">
        {day(curve.at(-1)!.at)}
      </text>
    </svg>
  );
}
