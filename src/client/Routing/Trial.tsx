import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { FileTrigger } from "react-aria-components";
import { Link } from "react-router";
import styled from "styled-components";
import type { Schema } from "../api/client";
import { upload } from "../api/upload";
import { Table } from "../parts/Bench";
import { Button } from "../parts/Button";
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

// Of fewer leads it says nothing that a team's people got different numbers.
const tellable = 20;

const lasts = [500, 2000, 10_000, 100_000];

type Props = { sheet: Sheet; isDraft: boolean; names: Names };

/** The last leads, or those of a list, played through the sheet: who would get what, against who got it or would by the live sheet; and one lead at a time. */
export function Trial({ sheet, isDraft, names }: Props) {
  const [last, setLast] = useState(2000);
  const play = usePlay(sheet, last);
  return (
    <Parts>
      <TryLead sheet={sheet} names={names} />
      <List sheet={sheet} isDraft={isDraft} />
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

type Play = Schema["PlayView"];

function List({ sheet, isDraft }: { sheet: Sheet; isDraft: boolean }) {
  const [file, setFile] = useState<File>();
  const tried = useMutation({ mutationFn: (chosen: File) => upload<Play>("/api/routing/trial/list", "file", chosen, undefined, { sheet: JSON.stringify(sheet) }) });
  const choose = (chosen?: File) => chosen && (setFile(chosen), tried.mutate(chosen));
  return (
    <section aria-label="A list">
      <h2>A list</h2>
      <p style={{ display: "flex", gap: 12, alignItems: "center", fontSize: 14 }}>
        <FileTrigger onSelect={(files) => choose(files?.[0])}>
          <Button isPending={tried.isPending}>Choose a list to try</Button>
        </FileTrigger>
        {file && (
          <Button look="quiet" isDisabled={tried.isPending} onPress={() => tried.mutate(file)}>
            Try {file.name} again
          </Button>
        )}
        <small>Each row as if it were somebody new. Nothing is kept.</small>
      </p>
      {tried.isError && <p style={{ color: "var(--bad)", fontSize: 14 }}>{tried.error.message}</p>}
      {tried.isPending && <Skeleton rows={3} />}
      {tried.data && !tried.isPending && <Played play={tried.data} sheet={sheet} isDraft={isDraft} isList />}
    </section>
  );
}

function Played({ play, sheet, isDraft, isList = false }: { play: Play; sheet: Sheet; isDraft: boolean; isList?: boolean }) {
  const uneven = play.teams.filter((t) => t.spread >= 1.5 && t.now >= tellable);
  return (
    <>
      <p style={{ margin: "10px 0 14px", fontSize: 14 }}>
        {count(play.leads, isList ? "row" : "lead")}
        {play.from ? ` since ${day(play.from)}` : ""} by {isDraft ? "the draft" : "the live sheet"}, everybody there and with room: {whole(play.guarded)} would go to who owned something already{isList && !isDraft ? "" : `, ${whole(play.changed)} to somebody else than ${isList ? "by the live sheet" : "they did"}`}, {whole(play.noRule + play.held)} would wait on the Desk.{" "}
        {play.aside > 0 && `${count(play.aside, "row")} would be set aside, as they tell of nobody. `}
        {uneven.length > 0 && `Uneven for their turns: ${uneven.map((t) => `${t.name} (the most ${t.spread.toFixed(1)} times the least)`).join(", ")}.`}
      </p>
      <Table>
        <thead>
          <tr>
            <th>Person</th>
            <th>Team</th>
            <th className="n">{isList ? "By the live sheet" : "Got"}</th>
            <th className="n">Would get</th>
            <th className="n">To hand over</th>
            <th className="n">Mean fit</th>
            <th className="n">Mean engagement</th>
            <th className="n">{isList ? "Open with it" : "Open at this rate"}</th>
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
                <th className="n">{isList ? "Row" : "Lead"}</th>
                <th>Name</th>
                <th>{isList ? "By the live sheet" : "Got it"}</th>
                <th>Would get it</th>
                <th>By</th>
              </tr>
            </thead>
            <tbody>
              {play.changes.map((c) => (
                <tr key={c.lead ?? c.number}>
                  <td className="n">{c.number}</td>
                  <td>
{c.lead ? <Link to={`/leads/${c.lead}`}>{c.name}</Link> : c.name}
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
