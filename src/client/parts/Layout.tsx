import styled from "styled-components";
import { room, type Room } from "./room";
import { unseen } from "./theme";

/** Things one under the other. `$gap`, `$above`, `$below`: steps of 4 pixels; `$width`: greatest width in pixels. */
export const Stack = styled.div<Room & { $gap?: number; $width?: number }>`
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: ${(p) => (p.$gap ?? 3) * 4}px;
  ${(p) => p.$width && `max-width: ${p.$width}px;`}
  ${room}
`;

/** Things beside each other, on as many lines as they need. */
export const Row = styled.div<Room & { $gap?: number; $align?: "center" | "end" | "start" | "baseline"; $apart?: boolean; $end?: boolean }>`
  display: flex;
  flex-wrap: wrap;
  align-items: ${(p) => p.$align ?? "center"};
  ${(p) => p.$apart && "justify-content: space-between;"}
  ${(p) => p.$end && "justify-content: flex-end;"}
  gap: ${(p) => (p.$gap ?? 2) * 4}px;
  ${room}
`;

/** Columns of equal or given widths that become one on a narrow screen. */
export const Columns = styled.div<Room & { $of: string; $gap?: number; $align?: "start" | "end" | "center" | "baseline" }>`
  display: grid;
  grid-template-columns: ${(p) => p.$of};
  align-items: ${(p) => p.$align ?? "stretch"};
  gap: ${(p) => (p.$gap ?? 3) * 4}px;
  ${room}
  @media (max-width: 600px) {
    grid-template-columns: minmax(0, 1fr);
  }
`;

/** Room around or a limit to the width of what is in it: steps of 4 pixels, width in pixels. */
export const Block = styled.div<Room & { $width?: number; $grow?: boolean; $right?: boolean }>`
  ${(p) => p.$width && `width: 100%; max-width: ${p.$width}px;`}
  ${(p) => p.$grow && "flex: 1; min-width: 0;"}
  ${(p) => p.$right && "margin-left: auto;"}
  ${room}
`;

/** A list without marks. */
export const Plain = styled.ul<Room & { $gap?: number }>`
  list-style: none;
  padding: 0;
  margin: 0;
  font-size: 14px;
  ${(p) => p.$gap !== undefined && `display: grid; gap: ${p.$gap * 4}px;`}
  ${room}
`;

/** Seen by no eye, read aloud. */
export const Unseen = styled.span`
  ${unseen}
`;
