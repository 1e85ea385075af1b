import { css } from "styled-components";

export type Room = { $above?: number; $below?: number };

/** Room above and below, in steps of 4 pixels. */
export const room = css<Room>`
  ${(p) => p.$above !== undefined && `margin-top: ${p.$above * 4}px;`}
  ${(p) => p.$below !== undefined && `margin-bottom: ${p.$below * 4}px;`}
`;
