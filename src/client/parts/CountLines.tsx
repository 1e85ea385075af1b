import styled from "styled-components";
import { small } from "./theme";

/** Names at the left, what there is of each at the right. */
export const CountLines = styled.ul`
  list-style: none;
  padding: 0;
  margin: 0 0 14px;
  font-size: 14px;
  li {
    display: grid;
    grid-template-columns: 1fr auto;
    gap: 10px;
    padding: 6px 0;
    border-bottom: 1px solid var(--hair);
  }
  b {
    font-weight: 640;
  }
  small {
    ${small}
  }
  li > :last-child {
    text-align: right;
  }
`;

