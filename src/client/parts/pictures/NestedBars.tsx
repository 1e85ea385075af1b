import styled from "styled-components";
import { small } from "../theme";
import { whole } from "../format";

const heights = [22, 12, 4];

const Box = styled.div`
  position: relative;
  height: ${heights[0]}px;
  min-width: 160px;
  i {
    position: absolute;
    left: 0;
    border-radius: 1px;
    forced-color-adjust: none;
  }
`;

const Key = styled.p`
  ${small}
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  margin: 10px 0 8px;
  i {
    display: inline-block;
    width: 14px;
    height: 8px;
    margin-right: 6px;
    forced-color-adjust: none;
  }
`;

export type Layer = { name: string; color: string };

/** What the layers of {@link NestedBars} are. */
export const Legend = ({ series }: { series: readonly Layer[] }) => (
  <Key>
    {series.map((s) => (
      <span key={s.name}>
        <i style={{ background: s.color }} />
        {s.name}
      </span>
    ))}
  </Key>
);

type Props = { label: string; series: readonly Layer[]; values: readonly number[]; most: number };

/** Up to three amounts of which each is a part of the one before, laid in one another; thinner ones within thicker ones, so that they tell without colour. */
export function NestedBars({ label, series, values, most }: Props) {
  return (
    <Box role="img" aria-label={`${label}: ${series.map((s, i) => `${whole(values[i]!)} ${s.name}`).join(", ")}`}>
      {series.map((s, i) => (
        <i key={s.name} style={{ height: heights[i]!, top: (heights[0]! - heights[i]!) / 2, width: `${(values[i]! / most) * 100}%`, background: s.color }} />
      ))}
    </Box>
  );
}
