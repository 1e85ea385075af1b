import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";
import type { ReactNode } from "react";
import type { Schema } from "../api/client";
import { percent } from "../parts/format";
import { Block } from "../parts/Layout";
import { Axis } from "../parts/pictures/Axis";
import { Picture, type PictureTable } from "../parts/pictures/Picture";

const height = 258;
const widest = 330;
const pad = { left: 48, top: 8, right: 12, bottom: 40 };

const looks: Record<string, { stroke: string; width: number; dash?: string }> = {
  both: { stroke: "var(--ink)", width: 2 },
  fit: { stroke: "var(--slate)", width: 1.5 },
  engagement: { stroke: "var(--lamp)", width: 1.5, dash: "5 3" },
};

type Scale = (share: number) => number;

type Props = {
  label: string;
  table: PictureTable;
  /** Greatest share of both scales, 0 to 1. */
  most: number;
  across: string;
  up: string;
  children: (x: Scale, y: Scale) => ReactNode;
};

/** A square of two shares with the line on which both are the same. */
function Square({ label, table, most, across, up, children }: Props) {
  return (
    <Block $width={widest}>
      <Picture label={label} height={height} table={table}>
        {(width) => {
          const x = scaleLinear([0, most], [pad.left, width - pad.right]);
          const y = scaleLinear([0, most], [height - pad.bottom, pad.top]);
          return (
            <>
              <Axis scale={y} at="left" offset={pad.left} reach={width - pad.left - pad.right} ticks={3} format={percent} />
              <Axis scale={x} at="bottom" offset={height - pad.bottom} ticks={3} format={percent} />
              <line x1={x(0)} y1={y(0)} x2={x(most)} y2={y(most)} stroke="var(--hair)" strokeDasharray="3 4" />
              <text x={x(most / 2)} y={height - 4} textAnchor="middle">
                {across}
              </text>
              <text transform={`translate(10 ${y(most / 2)}) rotate(-90)`} textAnchor="middle">
                {up}
              </text>
              {children(x, y)}
            </>
          );
        }}
      </Picture>
    </Block>
  );
}

type Curve = { name: string; curve: Schema["RankCurve"] };

const lineAbove = 18;

/** For each bar: the share of the lost that reach it across, of the won up. The farther above the diagonal, the better it tells them apart. */
export function RankPicture({ curves }: { curves: Curve[] }) {
  return (
    <Square
      label={curves.map((c) => `${c.name}: area ${c.curve.area.toFixed(2)}`).join(", ")}
      table={{ head: ["score", "area under its line", "likely"], rows: curves.map(({ name, curve }) => [name, curve.area.toFixed(2), `${curve.low.toFixed(2)} to ${curve.high.toFixed(2)}`]) }}
      most={1}
      across="lost that reach it →"
      up="won that reach it →"
    >
      {(x, y) => (
        <>
          {curves.toReversed().map(({ name, curve }) => (
            <path key={name} d={line<{ lost: number; won: number }>((p) => x(p.lost), (p) => y(p.won))([...curve.points]) ?? ""} fill="none" {...strokeOf(name)} />
          ))}
          {curves.map(({ name, curve }, i) => (
            <g key={name} transform={`translate(${x(1) - 128} ${y(0) - 48 + i * lineAbove})`}>
              <line x1={0} x2={20} y1={-4} y2={-4} {...strokeOf(name)} />
              <text x={26} className="strong">
                {name} {curve.area.toFixed(2)}
              </text>
            </g>
          ))}
        </>
      )}
    </Square>
  );
}

function strokeOf(name: string) {
  const look = looks[name]!;
  return { stroke: look.stroke, strokeWidth: look.width, strokeDasharray: look.dash };
}

/** Promised across, come true up, with how sure that is. On the diagonal promises are kept. */
export function CalibrationPicture({ points }: { points: readonly Schema["CalibrationPoint"][] }) {
  const most = Math.min(1, Math.max(0.2, ...points.map((p) => Math.max(p.promised, p.share.high))) * 1.05);
  return (
    <Square
      label={points.map((p) => `promised ${percent(p.promised)}, came ${percent(p.share.rate)}`).join("; ")}
      table={{ head: ["promised", "came true", "won", "likely"], rows: points.map((p) => [percent(p.promised), percent(p.share.rate), `${p.share.won} of ${p.share.count}`, `${percent(p.share.low)} to ${percent(p.share.high)}`]) }}
      most={most}
      across="promised →"
      up="came true →"
    >
      {(x, y) =>
        points.map((p, i) => (
          <g key={i} transform={`translate(${x(p.promised)} 0)`}>
            <title>{`promised ${percent(p.promised)}: ${p.share.won} of ${p.share.count} won`}</title>
            <line y1={y(p.share.low)} y2={y(Math.min(most, p.share.high))} stroke="var(--lamp)" strokeWidth="2" />
            <circle cy={y(p.share.rate)} r="4" fill="var(--slate)" />
          </g>
        ))
      }
    </Square>
  );
}
