import { Link } from "react-router";
import styled from "styled-components";
import { useLabels } from "../common/fields";
import { StripLine } from "../parts/Shell";
import { small } from "../parts/theme";
import { Warm } from "../parts/Words";
import type { Sheet } from "./queries";

const Others = styled.div`
  font-size: 14px;
  ul {
    list-style: none;
    padding: 0;
    margin: 0;
  }
  small {
    ${small}
    margin-left: 8px;
  }
  details > summary {
    cursor: pointer;
    min-height: 24px;
  }
`;

const few = 2;

/** The other people who asked for the same company; several owners of one company stand out. */
export function Company({ lead }: { lead: Sheet }) {
  if (lead.company.length === 0) return null;
  const owners = new Set([lead.ownerName, ...lead.company.filter((c) => c.state !== "disqualified" && c.state !== "handed_over").map((c) => c.owner)].filter(Boolean));
  const rest = lead.company.slice(few);
  return (
    <StripLine name="Same company">
      <Others role="region" aria-label={`Others at ${lead.facts.find((f) => f.key === "company")?.value}`}>
        <List of={lead.company.slice(0, few)} />
        {rest.length > 0 && (
          <details>
            <summary>{rest.length} more</summary>
            <List of={rest} />
          </details>
        )}
        {owners.size > 1 && <Warm>Several of us work on this company: {[...owners].join(", ")}.</Warm>}
      </Others>
    </StripLine>
  );
}

function List({ of }: { of: Sheet["company"] }) {
  const state = useLabels("state");
  return (
    <ul>
      {of.map((c) => (
        <li key={c.id}>
          <Link to={`/leads/${c.id}`}>{c.name}</Link>
          <small>{[state(c.state).toLowerCase(), c.owner ?? "no owner", c.interest].filter(Boolean).join(" · ")}</small>
        </li>
      ))}
    </ul>
  );
}
