import styled from "styled-components";

/** Reasons in the order in which they were met; the line with `data-hit` decided. */
export const Trace = styled.ol`
  padding: 0;
  margin: 0 0 10px;
  list-style: none;
  font-size: 14px;
  li {
    padding: 5px 0 5px 14px;
    border-left: 2px solid var(--hair);
    color: var(--soft);
  }
  li[data-hit] {
    border-left-color: var(--lamp);
    color: var(--ink);
    font-weight: 560;
  }
`;
