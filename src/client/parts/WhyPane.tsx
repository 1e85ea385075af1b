import { useState, type ReactNode } from "react";
import styled from "styled-components";
import { Button } from "./Button";
import { points } from "./format";
import { serif, small } from "./theme";

const Pane = styled.aside<{ $open: boolean }>`
  width: ${(p) => (p.$open ? "340px" : "44px")};
  flex: none;
  overflow: auto;
  position: relative;
  border-left: 1px solid var(--hair);
  padding: ${(p) => (p.$open ? "14px 18px 32px" : "10px 4px")};
  @media (max-width: 1100px) {
    width: ${(p) => (p.$open ? "280px" : "44px")};
  }
  @media (max-width: 767px) {
    width: auto;
    overflow: visible;
    border-left: 0;
    border-top: 1px solid var(--hair);
  }
`;

const Top = styled.div`
  display: flex;
  justify-content: space-between;
  align-items: center;
  ${small}
`;

const Title = styled.h2`
  margin: 0 0 12px;
`;

/** The right-hand pane with the reasons of whatever is selected; foldable. */
export function WhyPane({ title, children }: { title: ReactNode; children: ReactNode }) {
  const [open, setOpen] = useState(localStorage.getItem("lantern-why") !== "folded");
  const fold = () => {
    localStorage.setItem("lantern-why", open ? "folded" : "open");
    setOpen(!open);
  };
  return (
    <Pane $open={open} aria-label="Why">
      <Top>
        {open && <span>Why</span>}
        <Button look="quiet" aria-label={open ? "Fold the reasons" : "Show the reasons"} aria-expanded={open} onPress={fold}>
          {open ? "fold" : "why"}
        </Button>
      </Top>
      {open && (
        <>
          <Title>{title}</Title>
          {children}
        </>
      )}
    </Pane>
  );
}

const Reason = styled.li`
  display: grid;
  grid-template-columns: 44px 1fr;
  gap: 10px;
  padding: 7px 0;
  border-bottom: 1px solid var(--hair);
  font-size: 14px;
  b {
    text-align: right;
    font-weight: 640;
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
        <Reason key={i}>
          <b style={warm ? { color: "var(--lamp-ink)" } : undefined}>{points(item.points)}</b>
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

const Numeral = styled.div`
  b {
    ${serif}
    display: block;
    font-size: 34px;
    font-weight: 500;
    line-height: 1.05;
  }
  span {
    ${small}
    font-size: 12px;
  }
`;

/** A number of importance with its caption. */
export function Big({ value, caption, warm }: { value: ReactNode; caption: ReactNode; warm?: boolean }) {
  return (
    <Numeral>
      <b style={warm ? { color: "var(--lamp-ink)" } : undefined}>{value}</b>
      <span>{caption}</span>
    </Numeral>
  );
}

export const Bigs = styled.div`
  display: flex;
  gap: 28px;
  margin-bottom: 10px;
`;
