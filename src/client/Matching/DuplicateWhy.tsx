import styled from "styled-components";
import { small } from "../parts/theme";
import { Big, Bigs, Evidence, WhyPane } from "../parts/WhyPane";
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

/** Evidence in bits, most first, its sum, and where that stands between the two bars. */
export function DuplicateWhy({ duplicate }: { duplicate: DuplicateSheet }) {
  const most = Math.max(duplicate.link * 1.25, duplicate.bits);
  const at = (bits: number) => `${Math.max(0, Math.min(100, (bits / most) * 100))}%`;
  const evidence = [...duplicate.evidence].sort((a, b) => b.bits - a.bits);
  return (
    <WhyPane title="Why they may be one">
      <Bigs>
        <Big value={duplicate.bits.toFixed(1)} caption={`bits of evidence: ${duplicate.bits >= duplicate.link ? "as good as sure" : duplicate.bits >= duplicate.ask ? "doubtful" : "too little by now"}`} />
      </Bigs>
      <Scale role="img" aria-label={`${duplicate.bits} bits; asked from ${duplicate.ask}, linked by itself from ${duplicate.link}`}>
        <i style={{ width: at(duplicate.bits) }} />
        <span style={{ left: at(duplicate.ask) }} />
        <small style={{ left: at(duplicate.ask) }}>ask</small>
        <span style={{ left: at(duplicate.link) }} />
        <small style={{ left: at(duplicate.link) }}>link</small>
      </Scale>
      <Evidence items={evidence.map((e) => ({ label: e.words, points: e.bits }))} sum="in all" />
      <p style={{ fontSize: 13, color: "var(--soft)" }}>One bit doubles the odds that the two are one. How many are needed grows with the number of records.</p>
    </WhyPane>
  );
}
