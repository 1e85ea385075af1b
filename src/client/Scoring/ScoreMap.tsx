import { useNavigate } from "react-router";
import type { Schema } from "../api/client";
import { count, whole } from "../parts/format";

const size = 500;
const cell = size / 20;
const pad = { left: 34, top: 30, right: 10, bottom: 34 };

const corners: Record<string, { x: number; y: number; anchor: "start" | "end" }> = {
  check: { x: 0, y: -10, anchor: "start" },
  hand_over: { x: size, y: -10, anchor: "end" },
  park: { x: 0, y: size + 20, anchor: "start" },
  nurture: { x: size, y: size + 20, anchor: "end" },
};

/** All open leads: fit across, engagement up, squares as large as there are leads. Captions stand outside the field, so nothing covers a mark. */
export function ScoreMap({ scoring }: { scoring: Schema["ScoringView"] }) {
  const navigate = useNavigate();
  const most = Math.max(1, ...scoring.map.map((c) => c.leads));
  const x = (fit: number) => (fit / 100) * size;
  const y = (engagement: number) => size - (engagement / 100) * size;
  const clears = (c: Schema["MapCell"]) => c.fit >= scoring.bars.fit && c.engagement >= scoring.bars.engagement;
  return (
    <svg viewBox={`${-pad.left} ${-pad.top} ${size + pad.left + pad.right} ${size + pad.top + pad.bottom}`} style={{ width: "100%", maxHeight: "calc(100vh - 190px)" }} role="img" aria-label="Score map: fit across, engagement up">
      <rect width={size} height={size} fill="none" stroke="var(--hair)" />
      <rect x={x(scoring.bars.fit)} width={size - x(scoring.bars.fit)} height={y(scoring.bars.engagement)} fill="var(--lamp-wash)" opacity=".55" />
      {scoring.map.map((c) => {
        const side = 4 + Math.sqrt(c.leads / most) * (cell - 6);
        const color = clears(c) ? "var(--lamp)" : "color-mix(in srgb, var(--slate) 62%, var(--sheet))";
        return (
          <rect key={`${c.fit}-${c.engagement}`} x={x(c.fit) + (cell - side) / 2} y={y(c.engagement) - cell + (cell - side) / 2} width={side} height={side} rx="1" fill={color}>
            <title>{`fit ${c.fit} to ${c.fit + 4}, engagement ${c.engagement} to ${c.engagement + 4}: ${count(c.leads, "lead")}`}</title>
          </rect>
        );
      })}
      <Bar x1={x(scoring.bars.fit)} y1={0} x2={x(scoring.bars.fit)} y2={size} label={`fit ${scoring.bars.fit}`} at={[x(scoring.bars.fit), -10]} anchor="middle" />
      <Bar x1={0} y1={y(scoring.bars.engagement)} x2={size} y2={y(scoring.bars.engagement)} label={String(scoring.bars.engagement)} at={[-8, y(scoring.bars.engagement) + 4]} anchor="end" />
      {scoring.quarters.map((q) => {
        const at = corners[q.move];
        if (!at) return null;
        return (
          <text key={q.move} x={at.x} y={at.y} textAnchor={at.anchor} fontSize="15" fill="var(--ink)" style={{ cursor: "pointer" }} onClick={() => void navigate(`/leads?move=${q.move}&state=open`)}>
            <tspan fontFamily="Fraunces Variable" fontWeight="560">
              {q.label}
            </tspan>{" "}
            <tspan fontSize="13" fill="var(--soft)">
              {whole(q.leads)}
            </tspan>
          </text>
        );
      })}
      <text x={size / 2} y={size + 20} textAnchor="middle" fontSize="12" fill="var(--soft)">
        fit →
      </text>
      <text transform={`translate(-12 ${size * 0.82}) rotate(-90)`} textAnchor="middle" fontSize="12" fill="var(--soft)">
        engagement →
      </text>
    </svg>
  );
}

type BarProps = { x1: number; y1: number; x2: number; y2: number; label: string; at: [number, number]; anchor: "middle" | "end" };

function Bar({ label, at, anchor, ...line }: BarProps) {
  return (
    <>
      <line {...line} stroke="var(--ink)" strokeWidth="1.5" />
      <text x={at[0]} y={at[1]} textAnchor={anchor} fontSize="12" fontWeight="620" fill="var(--ink)">
        {label}
      </text>
    </>
  );
}
