import type { ReactNode } from "react";
import styled from "styled-components";
import { small } from "../parts/theme";
import type { Finding } from "./model";

const Row = styled.button`
  display: grid;
  grid-template-columns: 1fr auto 64px;
  gap: 10px;
  align-items: center;
  width: 100%;
  padding: 6px 0;
  border: 0;
  background: none;
  text-align: left;
  cursor: pointer;
  &[aria-pressed="true"] {
    color: var(--slate);
    font-weight: 650;
  }
  &:hover span:first-child {
    text-decoration: underline;
    text-underline-offset: 3px;
  }
  b {
    font-weight: 640;
    white-space: nowrap;
  }
  small {
    ${small}
    text-align: right;
  }
  small.wide {
    grid-column: 2 / 4;
    white-space: nowrap;
  }
  mark {
    background: none;
    color: var(--bad);
    font-weight: 640;
  }
  mark[data-odd] {
    color: var(--lamp-ink);
  }
`;

type Props = { label: string; findings: readonly Finding[]; isChosen: boolean; onChoose: () => void; children: ReactNode };

/** A line of the model: its name, what is to be looked at in it, and its numbers. */
export function ModelRow({ label, findings, isChosen, onChoose, children }: Props) {
  return (
    <Row type="button" aria-pressed={isChosen} onClick={onChoose}>
      <span>
        {label} <Mark findings={findings} />
      </span>
      {children}
    </Row>
  );
}

/** A word for what is wrong, or may not be meant. */
function Mark({ findings }: { findings: readonly Finding[] }) {
  if (findings.length === 0) return null;
  const blocks = findings.some((f) => f.blocks);
  return (
    <mark data-odd={blocks ? undefined : true} title={findings.map((f) => f.words).join("\n")}>
      {blocks ? "mend" : "look"}
    </mark>
  );
}
