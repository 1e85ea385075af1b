import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import styled from "styled-components";
import { api, must } from "../api/client";
import { keys } from "../common/keys";
import { small } from "../parts/theme";
import { Known } from "../Rights/Known";
import { useSettled } from "../parts/useSettled";
import { Warm } from "../parts/Words";

const Box = styled.aside`
  border-left: 1px solid var(--hair);
  padding-left: 18px;
  h3 {
    font-size: 15px;
    font-weight: 640;
    margin: 0 0 8px;
  }
  p,
  small {
    ${small}
  }
  ul {
    list-style: none;
    padding: 0;
    margin: 0;
  }
  li {
    padding: 7px 0;
    border-bottom: 1px solid var(--hair);
    font-size: 14px;
  }
  small {
    display: block;
  }
`;

const kinds: Record<string, string> = { lead: "Lead", contact: "Contact", account: "Account" };
const pause = 250;

/** Records we have that are like what is typed so far; looked up when typing pauses. */
export function Alike({ facts, onOpen }: { facts: Record<string, string>; onOpen: () => void }) {
  const settled = useSettled(facts, pause);
  const { email, phone, first_name: firstName, last_name: lastName, company, country } = settled;
  const typed = { email, phone, firstName, lastName, company, country };
  const alike = useQuery({
    queryKey: keys.alike(typed),
    queryFn: () => must(api.GET("/api/leads/alike", { params: { query: typed } })),
    enabled: [email, phone, company].some((t) => (t ?? "").trim().length > 2),
    placeholderData: (before) => before,
  });
  const list = alike.data ?? [];
  return (
    <Box aria-label="Who is like this" aria-live="polite">
      <h3>Do we know them?</h3>
      {list.length === 0 && <p>As you type, people and companies we have that are like these appear here.</p>}
      <ul>
        {list.map((l) => (
          <li key={`${l.kind} ${l.known?.id ?? l.name}`}>
            {l.known ? (
              <Known known={l.known} />
            ) : l.leadId ? (
              <Link to={`/leads/${l.leadId}`} onClick={onOpen}>
                Lead {l.name}
              </Link>
            ) : (
              `${kinds[l.kind]} ${l.name}`.trim()
            )}
            <small>{l.evidence}</small>
            {l.same && (
              <small>
                <Warm>The same person: what you type is added to this lead.</Warm>
              </small>
            )}
          </li>
        ))}
      </ul>
    </Box>
  );
}
