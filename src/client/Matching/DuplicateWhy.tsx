import styled from "styled-components";
import { points } from "../parts/format";
import { small } from "../parts/theme";
import { Big, Bigs } from "../parts/Evidence";
import { WhyPane } from "../parts/WhyPane";
import { Hint } from "../parts/Words";
import type { DuplicateSheet } from "./queries";

const Scale = styled.div`
  position: relative;
  height: 8px;
  margin: 14px 0 30px;
  background: var(--hair);
  border-radius: 3px;
  i {
    position: absolute;
    inset: 0 auto 0 0;
    background: var(--slate);
    border-radius: 3px;
  }
  span {
    position: absolute;
    top: -4px;
    bottom: -4px;
    width: 0;
    border-left: 2px solid var(--ink);
  }
  small {
    ${small}
    font-size: 12px;
    position: absolute;
    top: 18px;
    transform: translateX(-50%);
    white-space: nowrap;
  }
`;

const Weights = styled.ul`
  list-style: none;
  margin: 0 0 14px;
  padding: 0;
  li {
    display: grid;
    grid-template-columns: 1fr auto;
    gap: 2px 12px;
    padding: 8px 0;
    border-bottom: 1px solid var(--hair);
    font-size: 14px;
  }
  em {
    ${small}
    font-style: normal;
    font-size: 12px;
    text-align: right;
    white-space: nowrap;
  }
  i {
    grid-column: 1 / -1;
    height: 4px;
    border-radius: 2px;
    background: var(--slate);
    &[data-against] {
      background: var(--bad);
    }
  }
`;

// A factor of 32 or more for the odds.
const strong = 5;
const strength = (bits: number) => (bits < 0 ? "against" : bits >= strong ? "strong for" : "weak for");
const verdict = (duplicate: DuplicateSheet) =>
  duplicate.bits >= duplicate.link ? "As good as sure" : duplicate.bits >= duplicate.ask ? "Doubtful" : "Too little by now";

/** The evidence in words with a bar, strongest first; and where its sum stands between the two bars. The number of bits comes second. */
export function DuplicateWhy({ duplicate }: { duplicate: DuplicateSheet }) {
  const most = Math.max(duplicate.link * 1.25, duplicate.bits);
  const at = (bits: number) => `${Math.max(0, Math.min(100, (bits / most) * 100))}%`;
  const evidence = [...duplicate.evidence].sort((a, b) => b.bits - a.bits);
  const longest = Math.max(1, ...evidence.map((e) => Math.abs(e.bits)));
  return (
    <WhyPane title="Why they may be one">
      <Bigs>
        <Big value={verdict(duplicate)} caption={`${duplicate.bits.toFixed(1)} bits of evidence in all`} />
      </Bigs>
      <Scale role="img" aria-label={`${duplicate.bits} bits; asked from ${duplicate.ask}, linked by itself from ${duplicate.link}`}>
        <i style={{ width: at(duplicate.bits) }} />
        <span style={{ left: at(duplicate.ask) }} />
        <small style={{ left: at(duplicate.ask) }}>ask</small>
        <span style={{ left: at(duplicate.link) }} />
        <small style={{ left: at(duplicate.link) }}>link</small>
      </Scale>
      <Weights>
        {evidence.map((e, i) => (
          <li key={i}>
            {e.words}
            <em>
              {strength(e.bits)}, {points(e.bits, 1)} bits
            </em>
            <i data-against={e.bits < 0 || undefined} style={{ width: `${(Math.abs(e.bits) / longest) * 100}%` }} />
          </li>
        ))}
      </Weights>
      <Hint>One bit doubles the odds that the two are one. How many are needed grows with the number of records.</Hint>
    </WhyPane>
  );
}
