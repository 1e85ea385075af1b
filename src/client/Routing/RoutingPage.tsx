import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { Bench, Cap, Head, Inner, Pane, Table } from "../parts/Bench";
import { count, left, moment, whole } from "../parts/format";
import { Skeleton, Trouble } from "../parts/States";
import { small } from "../parts/theme";
import { WhyPane } from "../parts/WhyPane";
import { useSession } from "../Setup/session";

const Teams = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(260px, 1fr));
  gap: 18px 32px;
  margin-top: 10px;
  ul {
    list-style: none;
    padding: 0;
    font-size: 14px;
  }
  li {
    display: grid;
    grid-template-columns: minmax(0, 1fr) 70px 92px;
    gap: 10px;
    align-items: center;
    padding: 5px 0;
    border-bottom: 1px solid var(--hair);
  }
  small {
    ${small}
    white-space: nowrap;
  }
`;

const Load = styled.span`
  display: block;
  height: 6px;
  background: var(--hair);
  border-radius: 1px;
  overflow: hidden;
  i {
    display: block;
    height: 100%;
  }
`;

const Waiting = styled.ul`
  list-style: none;
  padding: 0;
  font-size: 14px;
  li {
    padding: 7px 0;
    border-bottom: 1px solid var(--hair);
  }
`;

/** The live rule sheet, the teams with their turns, and who waits for a rule. */
export function RoutingPage() {
  const routing = useQuery({ queryKey: ["routing"], queryFn: () => must(api.GET("/api/routing")) });
  const { timeZone } = useSession();
  if (routing.isPending) return <Skeleton />;
  if (routing.isError) return <Trouble error={routing.error} />;
  const sheet = routing.data;
  return (
    <Bench>
      <Pane $sheet tabIndex={0} aria-label="Rule sheet">
        <Inner>
          <Head>
            <div>
              <h1>Rule sheet, edition {sheet.edition}</h1>
              <p>The first rule that fits decides. Hits are leads of the last 90 days.</p>
            </div>
          </Head>
          <Rules sheet={sheet} />
          <h2 style={{ marginTop: 34 }}>Teams and turns</h2>
          <Teams>
            {sheet.teams.map((t) => (
              <TeamBox key={t.key} team={t} />
            ))}
          </Teams>
        </Inner>
      </Pane>
      <WhyPane title={sheet.waiting.length ? `${count(sheet.waiting.length, "lead")} without a rule` : "Every lead found its rule"}>
        <p style={{ fontSize: 14, color: "var(--soft)", marginBottom: 8 }}>{sheet.waiting.length ? "No rule fits these. Give them to somebody by hand, or cover the hole." : "Leads that no rule fits wait here and on the Desk."}</p>
        <Waiting>
          {sheet.waiting.map((w) => (
            <li key={w.id}>
              <Link to={`/leads/${w.id}`}>{w.name}</Link>
              <Cap>
                {w.country ?? "country not known"}, since {moment(w.since, timeZone)}
              </Cap>
            </li>
          ))}
        </Waiting>
      </WhyPane>
    </Bench>
  );
}

function Rules({ sheet }: { sheet: Schema["RoutingView"] }) {
  return (
    <Table>
      <thead>
        <tr>
          <th className="n">Rule</th>
          {sheet.columns.map((c) => (
            <th key={c}>{c}</th>
          ))}
          <th>Goes to</th>
          <th>Answer in</th>
          <th className="n">Hits</th>
        </tr>
      </thead>
      <tbody>
        <tr>
          <td className="n">first</td>
          <td colSpan={sheet.columns.length} style={{ color: "var(--soft)" }}>
            somebody owns the contact, the account, or the company's other open leads
          </td>
          <td>that person</td>
          <td />
          <td className="n">{whole(sheet.guardHits)}</td>
        </tr>
        {sheet.rules.map((r, i) => (
          <tr key={r.key}>
            <td className="n">{i + 1}</td>
            {r.cells.map((cell, c) => (
              <td key={c} style={cell ? { maxWidth: 260 } : { color: "var(--soft)" }}>
                {cell || "any"}
              </td>
            ))}
            <td>
              <b style={{ fontWeight: 610 }}>{r.to}</b>
            </td>
            <td>{left(r.answerWithinMinutes)}</td>
            <td className="n">{whole(r.hits)}</td>
          </tr>
        ))}
        <tr>
          <td className="n">else</td>
          <td colSpan={sheet.columns.length} style={{ color: "var(--soft)" }}>
            no rule fits
          </td>
          <td>waits on the Desk</td>
          <td />
          <td className="n">{whole(sheet.noRule)}</td>
        </tr>
      </tbody>
    </Table>
  );
}

function TeamBox({ team }: { team: Schema["TeamView"] }) {
  return (
    <section aria-label={team.name}>
      <h3>{team.name}</h3>
      <ul>
        {team.members.map((m) => {
          const share = m.open / m.capacity;
          return (
            <li key={m.id}>
              <span>
                {m.name} <small>{m.away ? "away" : m.next ? "next" : m.weight > 1 ? `${m.weight} turns` : ""}</small>
              </span>
              <Load role="img" aria-label={`${m.open} of ${m.capacity}`}>
                <i style={{ width: `${Math.min(100, share * 100)}%`, background: share > 0.85 ? "var(--lamp)" : "var(--slate)" }} />
              </Load>
              <small title={`${m.last30Days} given in the last 30 days`}>
                {m.open} of {m.capacity} open
              </small>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
