import { useState } from "react";
import { Link } from "react-router";
import styled from "styled-components";
import { Table } from "../parts/Bench";
import { ChoiceBox } from "../parts/Field";
import { count, day, whole } from "../parts/format";
import { Skeleton } from "../parts/States";
import { small } from "../parts/theme";
import { usePlay } from "./queries";
import type { Sheet } from "./sheet";
import { TryLead } from "./TryLead";
import type { Names } from "./sheet";

const Parts = styled.div`
  display: grid;
  gap: 28px;
  small {
    ${small}
  }
  .ask {
    width: 220px;
  }
  td.over {
    color: var(--bad);
    font-weight: 640;
  }
`;

const lasts = [500, 2000, 10_000, 100_000];

type Props = { sheet: Sheet; isDraft: boolean; names: Names };

/** The last leads played through the sheet: who would get what, against who got it; and one lead at a time. */
export function Trial({ sheet, isDraft, names }: Props) {
  const [last, setLast] = useState(2000);
  const play = usePlay(sheet, last);
  return (
    <Parts>
      <TryLead sheet={sheet} names={names} />
      <section aria-label="The last leads again">
        <h2>The last leads again</h2>
        <div className="ask">
          <ChoiceBox label="How many" value={String(last)} options={lasts.map((n) => ({ key: String(n), label: `the last ${whole(n)}` }))} onChange={(n) => setLast(Number(n))} />
        </div>
        {play.isPending ? <Skeleton /> : play.isError ? <p style={{ color: "var(--bad)" }}>{play.error.message}</p> : <Played play={play.data} sheet={sheet} isDraft={isDraft} />}
      </section>
    </Parts>
  );
}

type Play = NonNullable<ReturnType<typeof usePlay>["data"]>;

function Played({ play, sheet, isDraft }: { play: Play; sheet: Sheet; isDraft: boolean }) {
  const uneven = play.teams.filter((t) => t.spread >= 1.5);
  return (
    <>
      <p style={{ margin: "10px 0 14px", fontSize: 14 }}>
        {count(play.leads, "lead")}
        {play.from ? ` since ${day(play.from)}` : ""} by {isDraft ? "the draft" : "the live sheet"}, everybody there and with room: {whole(play.changed)} would go to somebody else, {whole(play.guarded)} to who owned something already, {whole(play.noRule + play.held)} would wait on the Desk.{" "}
        {uneven.length > 0 && `Uneven for their turns: ${uneven.map((t) => `${t.name} (the most ${t.spread.toFixed(1)} times the least)`).join(", ")}.`}
      </p>
      <Table>
        <thead>
          <tr>
            <th>Person</th>
            <th>Team</th>
            <th className="n">Got</th>
            <th className="n">Would get</th>
            <th className="n">To hand over</th>
            <th className="n">Mean fit</th>
            <th className="n">Mean engagement</th>
            <th className="n">Open at this rate</th>
            <th className="n">Room for</th>
          </tr>
        </thead>
        <tbody>
          {play.shares.map((s) => (
            <tr key={s.person}>
              <td>{s.name}</td>
              <td>{s.teams.join(", ")}</td>
              <td className="n">{whole(s.then)}</td>
              <td className="n">
                <b>{whole(s.now)}</b>
              </td>
              <td className="n">{whole(s.ready)}</td>
              <td className="n">{s.now > 0 ? s.meanFit.toFixed(0) : ""}</td>
              <td className="n">{s.now > 0 ? s.meanEngagement.toFixed(0) : ""}</td>
              <td className={s.expectedOpen > s.capacity ? "n over" : "n"}>{whole(Math.round(s.expectedOpen))}</td>
              <td className="n">{whole(s.capacity)}</td>
            </tr>
          ))}
        </tbody>
      </Table>
      {play.changes.length > 0 && (
        <>
          <h2 style={{ marginTop: 24 }}>{play.changed > play.changes.length ? `The first ${play.changes.length} that would go elsewhere` : "Leads that would go elsewhere"}</h2>
          <Table>
            <thead>
              <tr>
                <th className="n">Lead</th>
                <th>Name</th>
                <th>Got it</th>
                <th>Would get it</th>
                <th>By</th>
              </tr>
            </thead>
            <tbody>
              {play.changes.map((c) => (
                <tr key={c.lead}>
                  <td className="n">{c.number}</td>
                  <td>
                    <Link to={`/leads/${c.lead}`}>{c.name}</Link>
                  </td>
                  <td>{c.then ?? "nobody"}</td>
                  <td>{c.now ?? "the Desk"}</td>
                  <td>{c.rule ? ruleName(sheet, c.rule) : c.now ? "who owned something" : "no rule"}</td>
                </tr>
              ))}
            </tbody>
          </Table>
        </>
      )}
    </>
  );
}

function ruleName(sheet: Sheet, key: string) {
  const at = sheet.rules.findIndex((r) => r.key === key);
  return at < 0 ? key : `${at + 1}, ${sheet.rules[at]!.name}`;
}
