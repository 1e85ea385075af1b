import { useState } from "react";
import { Link } from "react-router";
import styled from "styled-components";
import { useSetupGroups } from "../common/places";
import { useSession } from "../common/session";
import { Bench, Head, Inner, Notice, Pane } from "../parts/Bench";
import { TextBox } from "../parts/Field";
import { Block } from "../parts/Layout";
import { Empty } from "../parts/States";
import { small } from "../parts/theme";
import { Hint } from "../parts/Words";

const Groups = styled.div`
  columns: 340px;
  column-gap: 40px;
  section {
    break-inside: avoid;
    padding-bottom: 26px;
  }
  ul {
    list-style: none;
    margin: 8px 0 0;
    padding: 0;
    border-top: 1px solid var(--hair);
  }
  li a {
    display: block;
    padding: 8px 0;
    border-bottom: 1px solid var(--hair);
    color: var(--ink);
    font-weight: 550;
    text-decoration: none;
  }
  li a:hover {
    color: var(--slate);
  }
  small {
    ${small}
    display: block;
    font-weight: 400;
  }
`;

/** All that can be set up, in groups, with a search over them. */
export function SetupHome() {
  const [text, setText] = useState("");
  const { begins } = useSession();
  const groups = useFound(text);
  return (
    <Bench>
      <Pane aria-label="Setup">
        <Inner>
          <Head>
            <div>
              <h1>Setup</h1>
              <p>How this company works: what is asked, who may do what, what follows by itself.</p>
            </div>
            <Block $width={260}>
              <TextBox label="Find in the set-up" value={text} onChange={setText} placeholder="stages, holidays, tokens" />
            </Block>
          </Head>
          {begins && (
            <Notice>
              The first hour is not over. <Link to="/setup/start">Go on with it</Link>.
            </Notice>
          )}
          {groups.length === 0 && <Empty>Nothing in the set-up by these words.</Empty>}
          <Groups>
            {groups.map((g) => (
              <section key={g.name} aria-label={g.name}>
                <h2>{g.name}</h2>
                <Hint>{g.about}</Hint>
                <ul>
                  {g.pages.map((p) => (
                    <li key={p.key}>
                      <Link to={p.path}>
                        {p.label}
                        <small>{p.about}</small>
                      </Link>
                    </li>
                  ))}
                </ul>
              </section>
            ))}
          </Groups>
        </Inner>
      </Pane>
    </Bench>
  );
}

/** The pages in which each word occurs, in their groups; all where nothing is typed. */
function useFound(text: string) {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const fits = (said: string) => words.every((w) => said.toLowerCase().includes(w));
  return useSetupGroups()
    .map((g) => ({ ...g, pages: g.pages.filter((p) => fits(`${g.name} ${g.about} ${p.label} ${p.about}`)) }))
    .filter((g) => g.pages.length > 0);
}
