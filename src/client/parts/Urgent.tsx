import styled from "styled-components";

const Word = styled.b`
  margin-left: 8px;
  font-size: 12.5px;
  font-weight: 640;
  color: var(--lamp-ink);
`;

/** Says of a task that it stands before the others. */
export const Urgent = () => <Word>urgent</Word>;
