import styled from "styled-components";
import type { Schema } from "../api/client";
import { day, whole } from "../parts/format";
import { Unbroken } from "../parts/Words";
import type { Team } from "./TeamForm";

const Load = styled.span`
  display: block;
  height: 6px;
  background: var(--hair);
  border-radius: 1px;
  overflow: hidden;
  i {
    display: block;
    height: 100%;
    background: var(--slate);
    forced-color-adjust: none;
  }
  i[data-full] {
    background: var(--lamp);
  }
`;

const Who = styled.button`
  border: 0;
  background: none;
  padding: 0;
  font: inherit;
  text-align: left;
  cursor: pointer;
  color: inherit;
  min-height: 24px;
  &:hover {
    text-decoration: underline;
    text-underline-offset: 3px;
  }
`;

const Given = styled.small`
  text-align: right;
`;

type Props = { member: Team["members"][number]; skills: Schema["StaffView"]["skills"]; onChoose?: () => void };

// From so much of their room on somebody is shown as nearly full.
const nearlyFull = 0.85;

const away = (m: Props["member"]) => (m.away ? `away${m.awayUntil ? ` until ${day(m.awayUntil)}` : ""}${m.standIn ? `, ${m.standIn} stands in` : ""}` : m.next ? "next" : "");

/** Somebody in a team: whose turn is next, what they can do, how full they are, and what they were given. */
export function TeamMember({ member: m, skills, onChoose }: Props) {
  const said = [away(m), m.weight > 1 && `${m.weight} turns`, m.languages.length > 0 && `speaks ${m.languages.join(", ")}`, m.skills.map((s) => skills.find((n) => n.key === s)?.name.toLowerCase() ?? s).join(", ")].filter(Boolean);
  const share = m.open / m.capacity;
  return (
    <li>
      <span>
        {onChoose ? (
          <Who type="button" onClick={onChoose}>
            {m.name}
          </Who>
        ) : (
          m.name
        )}
        <br />
        <small>{said.join(", ")}</small>
      </span>
      <span>
        <Load role="img" aria-label={`${m.open} of ${m.capacity}`}>
          <i data-full={share > nearlyFull || undefined} style={{ width: `${Math.min(100, share * 100)}%` }} />
        </Load>
        <Unbroken as="small">
          {whole(m.open)} of {whole(m.capacity)} open
        </Unbroken>
      </span>
      <Given>
        {whole(m.given30Days)} given
        {m.given30Days > 0 && (
          <>
            <br />
            fit {m.meanFit.toFixed(0)}, eng. {m.meanEngagement.toFixed(0)}
          </>
        )}
      </Given>
    </li>
  );
}
