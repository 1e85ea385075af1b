import type { ReactNode } from "react";
import styled from "styled-components";
import { Table } from "./Bench";
import { Unseen } from "./Layout";

const Scroll = styled.div<{ $width?: number }>`
  overflow-x: auto;
  /* What is hidden from sight within scrolls with it and does not widen the page. */
  position: relative;
  ${(p) => p.$width && `max-width: ${p.$width}px;`}
  @media print {
    overflow: visible;
  }
`;

const Wide = styled.th<{ $width?: number | string }>`
  ${(p) => p.$width && `width: ${typeof p.$width === "number" ? `${p.$width}px` : p.$width};`}
`;

/** A column's name; one of numbers stands at the right, one of buttons is only read aloud. */
export type ColumnHead = string | { label: string; isNumber?: boolean; isUnseen?: boolean; width?: number | string };

type Props = { label: string; head: readonly ColumnHead[]; children: ReactNode; hasButtons?: boolean; width?: number };

/** A table with its column names. Where it is wider than its place it scrolls by itself, and not the page. */
export function DataTable({ label, head, children, hasButtons, width }: Props) {
  return (
    <Scroll $width={width}>
      <Table $middle={hasButtons} aria-label={label}>
        <thead>
          <tr>
            {head.map((h) => {
              const column = typeof h === "string" ? { label: h } : h;
              return (
                <Wide key={column.label} scope="col" className={column.isNumber ? "n" : undefined} $width={column.width}>
                  {column.isUnseen ? <Unseen>{column.label}</Unseen> : column.label}
                </Wide>
              );
            })}
          </tr>
        </thead>
        <tbody>{children}</tbody>
      </Table>
    </Scroll>
  );
}

/** A row that is in use no more. */
export const FadedRow = styled.tr<{ $faded?: boolean }>`
  ${(p) => p.$faded && "color: var(--soft);"}
`;
