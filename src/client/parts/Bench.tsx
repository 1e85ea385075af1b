import styled from "styled-components";
import { small } from "./theme";

/** Below the line: one to three panes side by side, each scrolling by itself. */
export const Bench = styled.main`
  display: flex;
  min-height: 0;
  flex: 1;
  border-top: 1px solid var(--hair);
  @media (max-width: 767px) {
    flex-direction: column;
    overflow: auto;
  }
`;

export const Pane = styled.section<{ $width?: number; $sheet?: boolean }>`
  ${(p) => (p.$width ? `width: ${p.$width}px; flex: none;` : "flex: 1; min-width: 0;")}
  overflow: auto;
  /* What is hidden from sight within (the true boxes of ticks and files) scrolls with it and does not make the page longer. */
  position: relative;
  background: ${(p) => (p.$sheet ? "var(--sheet)" : "var(--paper)")};
  & + & {
    border-left: 1px solid var(--hair);
  }
  @media (max-width: 767px) {
    width: auto;
    overflow: visible;
    & + & {
      border-left: 0;
      border-top: 1px solid var(--hair);
    }
  }
  @media print {
    overflow: visible;
  }
`;

export const Inner = styled.div`
  padding: 20px 24px 32px;
`;

/** Caption over a group. */
export const Cap = styled.div`
  ${small}
`;

export const Head = styled.header`
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: flex-start;
  gap: 20px;
  margin-bottom: 16px;
  & > :first-child:not(:last-child) {
    flex: 1 1 260px;
  }
  p {
    color: var(--soft);
    margin-top: 2px;
  }
`;

export const Cluster = styled.div`
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
`;

/** A line that asks for attention: why something should be done next. */
export const Aside = styled.div<{ $colour?: "lamp" | "good" | "bad" | "hair" }>`
  border-left: 3px solid var(--${(p) => p.$colour ?? "lamp"});
  padding: 2px 12px;
  font-size: 14px;
`;

/** The same above what it is about. */
export const Notice = styled(Aside)`
  margin-bottom: 14px;
`;

/** A plain table: hairlines, no boxes. `$middle` where rows hold buttons. */
export const Table = styled.table<{ $middle?: boolean }>`
  width: 100%;
  border-collapse: collapse;
  font-size: 14px;
  th {
    ${small}
    text-align: left;
    font-weight: 450;
    padding: 6px 12px 6px 0;
    white-space: nowrap;
    border-bottom: 1px solid var(--mark);
  }
  td {
    padding: 8px 12px 8px 0;
    border-bottom: 1px solid var(--hair);
    vertical-align: ${(p) => (p.$middle ? "middle" : "top")};
  }
  .n {
    text-align: right;
  }
  td.n {
    white-space: nowrap;
  }
`;
