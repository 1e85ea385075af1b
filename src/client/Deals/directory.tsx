import styled from "styled-components";
import { small } from "../parts/theme";

export const Filters = styled.div`
  display: grid;
  grid-template-columns: minmax(160px, 1fr) minmax(130px, 180px) minmax(130px, 180px);
  gap: 12px;
  margin-bottom: 14px;
  max-width: 640px;
`;

export const Narrow = styled.small`
  ${small}
`;

export const Entry = styled.div`
  display: flex;
  justify-content: space-between;
  gap: 10px;
  padding: 5px 0;
  border-bottom: 1px solid var(--hair);
  font-size: 14px;
  align-items: baseline;
  small {
    ${small}
    display: block;
  }
`;
