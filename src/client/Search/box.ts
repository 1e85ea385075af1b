import { css } from "styled-components";
import { small } from "../parts/theme";

/** The line one searches on, as long as the focus is elsewhere. */
export const searchBox = css`
  display: flex;
  align-items: center;
  border-bottom: 1px solid var(--mark);
  width: 128px;
  input {
    width: 100%;
    border: 0;
    background: none;
    padding: 4px 2px;
    font-size: 14px;
  }
  kbd {
    ${small}
    font: inherit;
    font-size: 12px;
    border: 1px solid var(--hair);
    border-radius: 3px;
    padding: 0 5px;
  }
`;
