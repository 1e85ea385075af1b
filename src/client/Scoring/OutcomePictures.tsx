import type { Schema } from "../api/client";

const size = 220;
const pad = { left: 34, top: 8, right: 10, bottom: 30 };
const frame = `${-pad.left} ${-pad.top} ${size + pad.left + pad.right} ${size + pad.top + pad.bottom}`;

const lines: Record<string, { stroke: string; width: number; dash?: string }> = {
  both: { stroke: "var(--ink)", width: 2 },
  fit: { stroke: "var(--slate)", width: 1.5 },
  engagement: { stroke: "var(--lamp)", width: 1.5, dash: "5 3" },
};

function Axes({ across, up }: { across: string; up: string }) {
  return (
    <>
      <rect width={size} height={size} fill="none" stroke="var(--hair)" />
      <line x1={0} y1={size} x2={size} y2={0} stroke="var(--hair)" strokeDasharray="3 4" />
      <text x={size / 2} y={size + 20} textAnchor="middle" fontSize="12" fill="var(--soft)">
        {across}
      </text>
      <text transform={`translate(-12 ${size / 2}) rotate(-90)`} textAnchor="middle" fontSize="12" fill="var(--soft)">
        {up}
      </text>
    </>
  );
}

/** For each bar: the share of the lost that reach it across, of the won up. The farther above the diagonal, the better it tells them apart. */
export function RankPicture({ curves }: { curves: { name: string; curve: Schema["RankCurve"] }[] }) {
  return (
    <svg viewBox={frame} style={{ width: "100%", maxWidth: 330 }} role="img" aria-label={curves.map((c) => `${c.name}: area ${c.curve.area.toFixed(2)}`).join(", ")}>
      <Axes across="lost that reach it →" up="won that reach it →" />
      {curves.toReversed().map(({ name, curve }) => {
        const line = lines[name]!;
        return <path key={name} d={curve.points.map((p, i) => `${i ? "L" : "M"}${p.lost * size} ${size - p.won * size}`).join("")} fill="none" stroke={line.stroke} strokeWidth={line.width} strokeDasharray={line.dash} />;
      })}
      {curves.map(({ name, curve }, i) => {
        const line = lines[name]!;
        return (
          <g key={name} transform={`translate(${size - 128} ${size - 54 + i * 18})`}>
            <line x1={0} x2={20} y1={-4} y2={-4} stroke={line.stroke} strokeWidth={line.width} strokeDasharray={line.dash} />
            <text x={26} fontSize="12" fill="var(--ink)">
              {name} {curve.area.toFixed(2)}
            </text>
          </g>
        );
      })}
    </svg>
  );
}

/** Promised across, come true up, with how sure that is. On the diagonal promises are kept. */
export function CalibrationPicture({ points }: { points: readonly Schema["CalibrationPoint"][] }) {
  const most = Math.min(1, Math.max(0.2, ...points.map((p) => Math.max(p.promised, p.share.high))) * 1.05);
  const at = (share: number) => (share / most) * size;
  const ends = `${Math.round(most * 100)} %`;
  return (
    <svg viewBox={frame} style={{ width: "100%", maxWidth: 330 }} role="img" aria-label={points.map((p) => `promised ${Math.round(p.promised * 100)} %, came ${Math.round(p.share.rate * 100)} %`).join("; ")}>
      <Axes across="promised →" up="came true →" />
      <text x={size} y={size + 20} textAnchor="end" fontSize="11" fill="var(--soft)">
        {ends}
      </text>
      <text x={-4} y={8} textAnchor="end" fontSize="11" fill="var(--soft)">
        {ends}
      </text>
      {points.map((p, i) => (
        <g key={i} transform={`translate(${at(p.promised)} 0)`}>
          <title>{`promised ${Math.round(p.promised * 100)} %: ${p.share.won} of ${p.share.count} won`}</title>
          <line y1={size - at(p.share.low)} y2={size - at(Math.min(most, p.share.high))} stroke="var(--lamp)" strokeWidth="2" />
          <circle cy={size - at(p.share.rate)} r="4" fill="var(--slate)" />
        </g>
      ))}
    </svg>
  );
}
