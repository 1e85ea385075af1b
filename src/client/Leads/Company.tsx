import { Link } from "react-router";
import styled from "styled-components";
import { small } from "../parts/theme";
import type { Sheet } from "./queries";
import { states } from "./words";

const Part = styled.section`
  margin-top: 16px;
  padding-top: 12px;
  border-top: 1px solid var(--hair);
  font-size: 14px;
  ul {
    list-style: none;
    padding: 0;
    margin: 4px 0 0;
  }
  li {
    padding: 3px 0;
  }
  small {
    ${small}
    margin-left: 8px;
  }
`;

/** The other people who asked for the same company; several owners of one company stand out. */
export function Company({ lead }: { lead: Sheet }) {
  if (lead.company.length === 0) return null;
  const name = lead.facts.find((f) => f.key === "company")?.value;
  const owners = new Set([lead.ownerName, ...lead.company.filter((c) => c.state !== "disqualified" && c.state !== "handed_over").map((c) => c.owner)].filter(Boolean));
  return (
    <Part aria-label={`Others at ${name}`}>
      <h3>Others at {name}</h3>
      {owners.size > 1 && <p style={{ color: "var(--lamp-ink)", fontSize: 13 }}>Several of us work on this company: {[...owners].join(", ")}.</p>}
      <ul>
        {lead.company.map((c) => (
          <li key={c.id}>
            <Link to={`/leads/${c.id}`}>{c.name}</Link>
            <small>{[states[c.state]?.toLowerCase(), c.owner ?? "no owner", c.interest].filter(Boolean).join(" · ")}</small>
          </li>
        ))}
      </ul>
    </Part>
  );
}
