import styled from "styled-components";
import type { Session } from "../common/session";

/** The round mark of a person, by their initials; their menu opens by it. */
export const Face = styled.button`
  width: 30px;
  height: 30px;
  padding: 0;
  border-radius: 50%;
  border: 0;
  background: var(--slate-wash);
  color: var(--slate);
  font-size: 12px;
  font-weight: 650;
  cursor: pointer;
`;

/** How it is named, and its initials. */
export const faceOf = ({ initials, name }: Session) => ({ "aria-label": `${initials}: ${name}, menu`, children: initials });
