import { useState, type ReactNode } from "react";
import styled from "styled-components";
import { Button } from "./Button";
import { Tabs } from "./Tabs";
import { small } from "./theme";

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
  @media print {
    width: auto;
    overflow: visible;
    border-left: 0;
  }
`;

const Top = styled.div`
  display: flex;
  justify-content: space-between;
  align-items: center;
  ${small}
  nav {
    margin-bottom: 0;
  }
`;

const Title = styled.h2`
  margin: 0 0 12px;
`;

const Body = styled.div`
  margin-top: 10px;
`;

type Side = "why" | "facts";

const sides = [
  { key: "why", label: "Why" },
  { key: "facts", label: "Facts" },
] as const;

const folded = "lantern-why";
const side = "lantern-side";

type Props = {
  title: ReactNode;
  children: ReactNode;
  /** The record's facts in full, where it has some: the other side of the pane. */
  facts?: ReactNode;
  /** Counts up whenever the facts are to be shown. */
  ask?: number;
};

/** The right-hand pane with the reasons of whatever is selected, and behind a tab its facts; foldable. */
export function WhyPane({ title, children, facts, ask = 0 }: Props) {
  const [open, setOpen] = useState(localStorage.getItem(folded) !== "folded");
  const [at, setAt] = useState<Side>(facts && localStorage.getItem(side) === "facts" ? "facts" : "why");
  const [asked, setAsked] = useState(ask);
  if (ask !== asked) {
    setAsked(ask);
    setAt("facts");
    setOpen(true);
  }
  const fold = () => {
    localStorage.setItem(folded, open ? "folded" : "open");
    setOpen(!open);
  };
  const turn = (to: Side) => {
    localStorage.setItem(side, to);
    setAt(to);
  };
  const shown = facts ? at : "why";
  return (
    <Pane $open={open} aria-label="Why">
      <Top>
        {open && (facts ? <Tabs label="Reasons or facts" tabs={sides} at={at} onChoose={turn} /> : <span>Why</span>)}
        <Button look="quiet" aria-label={open ? "Fold the reasons" : "Show the reasons"} aria-expanded={open} onPress={fold}>
          {open ? "fold" : "why"}
        </Button>
      </Top>
      {open && (
        <Body>
          {shown === "why" && <Title>{title}</Title>}
          {shown === "why" ? children : facts}
        </Body>
      )}
    </Pane>
  );
}
