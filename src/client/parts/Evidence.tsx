import type { ReactNode } from "react";
import styled from "styled-components";
import { points } from "./format";
import { serif, small } from "./theme";

const Reason = styled.li<{ $warm?: boolean }>`
  display: grid;
  grid-template-columns: 44px 1fr;
  gap: 10px;
  padding: 7px 0;
  border-bottom: 1px solid var(--hair);
  font-size: 14px;
  b {
    text-align: right;
    font-weight: 640;
    ${(p) => p.$warm && "color: var(--lamp-ink);"}
  }
  small {
    ${small}
    display: block;
  }
`;

export const Reasons = styled.ol`
  list-style: none;
  padding: 0;
  margin-bottom: 18px;
`;

type Evidence = { label: string; points: number; detail?: string };

/** Evidence in order with its weight; the sum under it when there is one. */
export function Evidence({ items, warm, sum }: { items: readonly Evidence[]; warm?: boolean; sum?: string }) {
  return (
    <Reasons>
      {items.map((item, i) => (
        <Reason key={i} $warm={warm}>
          <b>{points(item.points)}</b>
          <span>
            {item.label}
            {item.detail && <small>{item.detail}</small>}
          </span>
        </Reason>
      ))}
      {sum && (
        <Reason>
          <b>= {items.reduce((s, i) => s + i.points, 0)}</b>
          <span>{sum}</span>
        </Reason>
      )}
    </Reasons>
  );
}

const Numeral = styled.div<{ $warm?: boolean }>`
  b {
    ${serif}
    display: block;
    font-size: 34px;
    font-weight: 500;
    line-height: 1.05;
    ${(p) => p.$warm && "color: var(--lamp-ink);"}
  }
  span {
    ${small}
    font-size: 12px;
  }
`;

/** A number of importance with its caption. */
export function Big({ value, caption, warm }: { value: ReactNode; caption: ReactNode; warm?: boolean }) {
  return (
    <Numeral $warm={warm}>
      <b>{value}</b>
      <span>{caption}</span>
    </Numeral>
  );
}

export const Bigs = styled.div`
  display: flex;
  gap: 28px;
  margin-bottom: 10px;
`;
