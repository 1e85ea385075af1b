import styled, { css } from "styled-components";

/** The round mark of a person, by their initials. */
export const face = css`
  width: 30px;
  height: 30px;
  border-radius: 50%;
  border: 0;
  background: var(--slate-wash);
  color: var(--slate);
  font-size: 12px;
  font-weight: 650;
`;

/** The same before their menu can be opened. */
export const Face = styled.span`
  ${face}
  display: grid;
  place-items: center;
`;
