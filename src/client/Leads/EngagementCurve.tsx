import { useState } from "react";
import type { Schema } from "../api/client";
import { day } from "../parts/format";
import { Lines } from "../parts/pictures/Lines";

const height = 96;

/** Engagement as it was and, without another touch, as it will be; against its bar. */
export function EngagementCurve({ curve, bar }: { curve: readonly Schema["EngagementThen"][]; bar: number }) {
  const points = curve.map((c) => ({ at: Date.parse(c.at), value: c.engagement }));
  const [now] = useState(Date.now);
  const past = points.filter((p) => p.at <= now);
  const ahead = points.filter((p) => p.at > now);
  const top = curve.reduce((a, b) => (b.engagement > a.engagement ? b : a));
  const joined = past.length && ahead.length ? [past.at(-1)!, ...ahead] : ahead;
  return (
    <Lines
      label={`Engagement over time, highest ${top.engagement} on ${day(top.at)}`}
      height={height}
      most={100}
      level={{ value: bar, label: `bar ${bar}` }}
      series={[{ name: "was", points: past, color: "var(--lamp)" }, ...(joined.length ? [{ name: "will be", points: joined, color: "var(--lamp)", look: "dashed" as const }] : [])]}
    />
  );
}
