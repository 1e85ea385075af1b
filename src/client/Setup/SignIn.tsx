import { useQuery, useQueryClient } from "@tanstack/react-query";
import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { keys } from "../common/keys";
import { Door } from "../parts/Door";
import { small } from "../parts/theme";
import { Hint } from "../parts/Words";
import { EnteringForm, useEntering, type Entering } from "./Entering";

const People = styled.ul`
  list-style: none;
  padding: 0;
  margin-top: 10px;
  li {
    border-bottom: 1px solid var(--hair);
  }
  button {
    display: flex;
    justify-content: space-between;
    gap: 12px;
    width: 100%;
    padding: 9px 2px;
    background: none;
    border: 0;
    cursor: pointer;
    text-align: left;
  }
  button:hover {
    color: var(--slate);
  }
  span {
    ${small}
    text-transform: capitalize;
  }
`;

/** The way in. A demo installation shows its people; a press signs in as one. */
export function SignIn() {
  const queries = useQueryClient();
  const entering = useEntering(() => queries.invalidateQueries({ queryKey: keys.session }));
  const demo = useQuery({ queryKey: keys.demo, queryFn: () => must(api.GET("/api/demo-sign-ins")) });
  return (
    <Door beside={!!demo.data?.length && <Demo people={demo.data} entering={entering} />}>
      <EnteringForm entering={entering} isWhole />
    </Door>
  );
}

function Demo({ people, entering }: { people: Schema["DemoSignIn"][]; entering: Entering }) {
  return (
    <section aria-label="People of the demo">
      <h2>Tarnhollow Instruments, a demo</h2>
      <Hint>Everybody and everything in it is invented. Come in as:</Hint>
      <People>
        {people.map((p) => (
          <li key={p.name}>
            <button type="button" disabled={entering.busy} onClick={() => void entering.byPassword(p, false)}>
              {p.displayName}
              <span>{p.role}</span>
            </button>
          </li>
        ))}
      </People>
    </section>
  );
}
