import styled from "styled-components";
import type { Schema } from "../api/client";
import { percent } from "../parts/format";
import { small } from "../parts/theme";

const Bands = styled.ul`
  display: grid;
  grid-template-columns: auto 1fr auto;
  gap: 3px 10px;
  align-items: center;
  list-style: none;
  padding: 0;
  margin: 0;
  font-size: 13px;
  li {
    display: grid;
    grid-column: 1 / -1;
    grid-template-columns: subgrid;
    align-items: center;
  }
  small {
    ${small}
    white-space: nowrap;
  }
`;

const Track = styled.span`
  position: relative;
  height: 14px;
`;

const Rate = styled.i`
  position: absolute;
  left: 0;
  top: 3px;
  height: 8px;
  background: var(--slate);
  border-radius: 1px;
`;

const Likely = styled.u`
  position: absolute;
  top: 6px;
  height: 2px;
  background: var(--lamp);
`;

// The least the scale reaches, so that few and small shares do not look large.
const leastScale = 0.1;

const lastBand = 90;

/** What became of the leads of each band of ten points: the share won as a bar, with how sure that is over it. */
export function BandOutcomes({ bands, name }: { bands: readonly Schema["BandOutcome"][]; name: string }) {
  const shown = bands.filter((b) => b.share.count > 0).toReversed();
  const most = Math.max(leastScale, ...shown.map((b) => b.share.high));
  return (
    <Bands aria-label={`Won by ${name}`}>
      {shown.map((b) => (
        <Band key={b.from} words={`${b.from} to ${b.from + (b.from === lastBand ? 10 : 9)}`} share={b.share} most={most} />
      ))}
    </Bands>
  );
}

function Band({ words, share, most }: { words: string; share: Schema["Share"]; most: number }) {
  const at = (rate: number) => `${(rate / most) * 100}%`;
  return (
    <li title={`${share.won} of ${share.count}, likely ${percent(share.low)} to ${percent(share.high)}`}>
      <small>{words}</small>
      <Track>
        <Rate style={{ width: at(share.rate) }} />
        <Likely style={{ left: at(share.low), width: at(share.high - share.low) }} />
      </Track>
      <small>
        {percent(share.rate)} of {share.count}
      </small>
    </li>
  );
}
