import styled from "styled-components";
import { small } from "../parts/theme";

export const Filters = styled.div`
  display: grid;
  grid-template-columns: minmax(160px, 1fr) minmax(130px, 180px) minmax(130px, 180px);
  gap: 12px;
  margin-bottom: 14px;
  max-width: 640px;
  @media (max-width: 600px) {
    grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  }
`;

/** A line of a directory; `$depth` steps in. */
export const Entry = styled.div<{ $depth?: number }>`
  display: flex;
  justify-content: space-between;
  gap: 10px;
  padding: 5px 0 5px ${(p) => (p.$depth ?? 0) * 18}px;
  border-bottom: 1px solid var(--hair);
  font-size: 14px;
  align-items: baseline;
  overflow-wrap: anywhere;
  small {
    ${small}
    display: block;
  }
`;

/** A row of a directory: the one that is open stands out; a second line under its name. */
export const RecordRow = styled.tr<{ $on: boolean }>`
  ${(p) => p.$on && "background: var(--sheet);"}
  td small {
    ${small}
    display: block;
  }
  td:first-child a {
    display: inline-block;
    min-height: 24px;
  }
`;
