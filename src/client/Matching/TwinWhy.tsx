import styled from "styled-components";
import { small } from "../parts/theme";
import { Big, Bigs, Evidence, WhyPane } from "../parts/WhyPane";
import type { TwinSheet } from "./queries";

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
export function TwinWhy({ twin }: { twin: TwinSheet }) {
  const most = Math.max(twin.link * 1.25, twin.bits);
  const at = (bits: number) => `${Math.max(0, Math.min(100, (bits / most) * 100))}%`;
  const evidence = [...twin.evidence].sort((a, b) => b.bits - a.bits);
  return (
    <WhyPane title="Why they may be one">
      <Bigs>
        <Big value={twin.bits.toFixed(1)} caption={`bits of evidence: ${twin.bits >= twin.link ? "as good as sure" : twin.bits >= twin.ask ? "doubtful" : "too little by now"}`} />
      </Bigs>
      <Scale role="img" aria-label={`${twin.bits} bits; asked from ${twin.ask}, linked by itself from ${twin.link}`}>
        <i style={{ width: at(twin.bits) }} />
        <span style={{ left: at(twin.ask) }} />
        <small style={{ left: at(twin.ask) }}>ask</small>
        <span style={{ left: at(twin.link) }} />
        <small style={{ left: at(twin.link) }}>link</small>
      </Scale>
      <Evidence items={evidence.map((e) => ({ label: e.words, points: e.bits }))} sum="in all" />
      <p style={{ fontSize: 13, color: "var(--soft)" }}>One bit doubles the odds that the two are one. How many are needed grows with the number of records.</p>
    </WhyPane>
  );
}
