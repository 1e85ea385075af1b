import { Link } from "react-router";
import styled from "styled-components";
import type { Schema } from "../api/client";
import { DataTable } from "../parts/DataTable";
import { count, day, whole } from "../parts/format";
import { Text, Title } from "../parts/Words";
import type { Sheet } from "./sheet";

const Open = styled.td<{ $over: boolean }>`
  text-align: right;
  ${(p) => p.$over && "color: var(--bad); font-weight: 640;"}
`;

// Of fewer leads it says nothing that a team's people got different numbers.
const tellable = 20;
const unevenFrom = 1.5;

type Play = Schema["PlayView"];
type Props = { play: Play; sheet: Sheet; isDraft: boolean; isList?: boolean };

const numeric = (label: string) => ({ label, isNumber: true });

/** What a sheet would do with many leads: in words, by person, and the leads that would go elsewhere. */
export function Played({ play, sheet, isDraft, isList = false }: Props) {
  return (
    <>
      <Text $above={3} $below={3}>
        {wordsOf(play, isDraft, isList)}
      </Text>
      <DataTable label="By person" head={["Person", "Team", ...[isList ? "By the live sheet" : "Got", "Would get", "To hand over", "Mean fit", "Mean engagement", isList ? "Open with it" : "Open at this rate", "Room for"].map(numeric)]}>
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
            <Open $over={s.expectedOpen > s.capacity}>{whole(Math.round(s.expectedOpen))}</Open>
            <td className="n">{whole(s.capacity)}</td>
          </tr>
        ))}
      </DataTable>
      {play.changes.length > 0 && <Elsewhere play={play} sheet={sheet} isList={isList} />}
    </>
  );
}

function wordsOf(play: Play, isDraft: boolean, isList: boolean): string {
  const uneven = play.teams.filter((t) => t.spread >= unevenFrom && t.now >= tellable).map((t) => `${t.name} (the most ${t.spread.toFixed(1)} times the least)`);
  const changed = isList && !isDraft ? "" : `, ${whole(play.changed)} to somebody else than ${isList ? "by the live sheet" : "they did"}`;
  return [
    `${count(play.leads, isList ? "row" : "lead")}${play.from ? ` since ${day(play.from)}` : ""} by ${isDraft ? "the draft" : "the live sheet"}, everybody there and with room: ${whole(play.guarded)} would go to who owned something already${changed}, ${whole(play.noRule + play.held)} would wait on the Desk.`,
    play.aside > 0 && `${count(play.aside, "row")} would be set aside, as they tell of nobody.`,
    uneven.length > 0 && `Uneven for their turns: ${uneven.join(", ")}.`,
  ]
    .filter(Boolean)
    .join(" ");
}

function Elsewhere({ play, sheet, isList }: Omit<Props, "isDraft">) {
  return (
    <>
      <Title $above={6}>{play.changed > play.changes.length ? `The first ${play.changes.length} that would go elsewhere` : "Leads that would go elsewhere"}</Title>
      <DataTable label="Leads that would go elsewhere" head={[numeric(isList ? "Row" : "Lead"), "Name", isList ? "By the live sheet" : "Got it", "Would get it", "By"]}>
        {play.changes.map((c) => (
          <tr key={c.lead ?? c.number}>
            <td className="n">{c.number}</td>
            <td>{c.lead ? <Link to={`/leads/${c.lead}`}>{c.name}</Link> : c.name}</td>
            <td>{c.then ?? "nobody"}</td>
            <td>{c.now ?? "the Desk"}</td>
            <td>{c.rule ? ruleName(sheet, c.rule) : c.now ? "who owned something" : "no rule"}</td>
          </tr>
        ))}
      </DataTable>
    </>
  );
}

function ruleName(sheet: Sheet, key: string) {
  const at = sheet.rules.findIndex((r) => r.key === key);
  return at < 0 ? key : `${at + 1}, ${sheet.rules[at]!.name}`;
}
