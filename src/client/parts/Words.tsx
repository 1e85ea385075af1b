import styled from "styled-components";
import { room, type Room } from "./room";
import { small } from "./theme";

/** A paragraph of the page's text, one size smaller. `$above` and `$below` are steps of 4 pixels. */
export const Text = styled.p<Room>`
  font-size: 14px;
  ${room}
`;

/** A soft sentence under or beside something. */
export const Hint = styled.p<Room>`
  ${small}
  ${room}
`;

/** The same within a line. */
export const Soft = styled.span`
  ${small}
`;

/** Soft in the size of what stands around it. */
export const Quiet = styled.span`
  color: var(--soft);
`;

/** Words that say that something waits for a person. */
export const Warm = styled.span`
  color: var(--lamp-ink);
`;

/** What is wrong, said where it is and read aloud. */
export const Wrong = styled.p.attrs({ role: "alert" })<Room>`
  font-size: 13px;
  color: var(--bad);
  ${room}
`;

/** A title of a part, with the room it stands in. */
export const Title = styled.h2<Room>`
  ${room}
`;

/** The same one size smaller. */
export const Subtitle = styled.h3<Room>`
  ${room}
`;

/** Words that do not break. */
export const Unbroken = styled.span`
  white-space: nowrap;
`;
