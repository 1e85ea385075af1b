import { useQuery, useQueryClient } from "@tanstack/react-query";
import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { useAct } from "../common/acting";
import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import { keys } from "../common/keys";
import { dateForms, decimalMarks } from "../common/writing";
import { useSession, type Session } from "../common/session";
import { Bench, Inner, Pane } from "../parts/Bench";
import { Button } from "../parts/Button";
import { ChoiceBox, TextBox } from "../parts/Field";
import { exact, moment } from "../parts/format";
import { Stack } from "../parts/Layout";
import { ErrorNote, Skeleton } from "../parts/States";
import { SecondStep } from "./SecondStep";
import { small } from "../parts/theme";

const Rows = styled.ul`
  list-style: none;
  padding: 0;
  margin-bottom: 28px;
  font-size: 14px;
  li {
    display: grid;
    grid-template-columns: minmax(0, 1fr) auto;
    gap: 4px 16px;
    align-items: center;
    padding: 9px 0;
    border-bottom: 1px solid var(--hair);
  }
  small {
    ${small}
    display: block;
    overflow-wrap: anywhere;
  }
`;

const Narrow = styled(Inner)`
  max-width: 720px;
`;

const Column = styled.section`
  max-width: 320px;
  margin: 16px 0 28px;
`;

/** How the person writes numbers and dates, where they are signed in, and their password. */
export function SessionsPage() {
  return (
    <Bench>
      <Pane aria-label="You and your sessions">
        <Narrow>
          <h1>You and your sessions</h1>
          <Writing />
          <h2>Signed in</h2>
          <Sessions />
          <Password />
          <SecondStep />
        </Narrow>
      </Pane>
    </Bench>
  );
}

function Writing() {
  const me = useSession();
  const queries = useQueryClient();
  const act = useAct();
  const show = (change: Partial<Session>) => queries.setQueryData(keys.session, { ...me, ...change });
  const writeNumbers = (key: string) => {
    const body = { numbers: key as Session["numbers"] };
    void act.run(() => must(api.PUT("/api/session/numbers", { body })), { changes: [], words: "Kept.", then: () => show(body) });
  };
  const writeDates = (key: string) => {
    const body = { dates: key as Session["dates"] };
    void act.run(() => must(api.PUT("/api/session/dates", { body })), { changes: [], words: "Kept.", then: () => show(body) });
  };
  return (
    <Column aria-label="Numbers and dates">
      <Stack>
        <ChoiceBox label="How you write numbers" value={me.numbers} options={decimalMarks} onChange={writeNumbers} />
        <ChoiceBox label="How you write dates" value={me.dates} options={dateForms} onChange={writeDates} />
      </Stack>
    </Column>
  );
}

function Sessions() {
  const sessions = useQuery({ queryKey: keys.sessions, queryFn: () => must(api.GET("/api/sessions")) });
  if (sessions.isPending) return <Skeleton rows={3} />;
  if (sessions.isError) return <ErrorNote error={sessions.error} />;
  // An administrator sees everybody's; then each says whose it is.
  const several = new Set(sessions.data.map((s) => s.person)).size > 1;
  return (
    <Rows>
      {sessions.data.map((s) => (
        <Line key={s.id} session={s} isNamed={several} />
      ))}
    </Rows>
  );
}

function Line({ session: s, isNamed }: { session: Schema["SessionLine"]; isNamed: boolean }) {
  const { timeZone } = useSession();
  const act = useAct();
  const end = () => void act.run(() => must(api.DELETE("/api/sessions/{id}", { params: { path: { id: s.id } } })), { changes: ["sessions"], words: "That session has ended." });
  return (
    <li>
      <span>
        {isNamed && <b>{s.person}: </b>}
        {browser(s.agent)} {s.this && "(this one)"}
        <small title={exact(s.seenAt, timeZone)}>
          from {s.address || "an unknown address"}, last seen {moment(s.seenAt, timeZone)}
          {s.stays && ", stays signed in"}
        </small>
      </span>
      {!s.this && (
        <Button look="quiet" isPending={act.busy} onPress={end}>
          End it
        </Button>
      )}
    </li>
  );
}

/** The program's name as people know it, from its line about itself. */
const browser = (agent: string) => {
  const known = [
    ["Firefox", "Firefox"],
    ["Edg/", "Edge"],
    ["Chrome", "Chrome or Chromium"],
    ["Safari", "Safari"],
  ].find(([mark]) => agent.includes(mark!));
  return known?.[1] ?? (agent.slice(0, 40) || "An unknown program");
};

function Password() {
  const form = useForm({ called: "the new password", initial: { old: "", new: "" }, asks: false });
  const keep = () => form.send((body) => must(api.PUT("/api/session/password", { body })), { changes: ["sessions"], words: "Your password is changed; your other sessions have ended." });
  return (
    <Column aria-label="Password">
      <h2>Password</h2>
      <FormBox form={form} look="plain" words="Change it" onSend={keep} isReady={!!form.values.old && !!form.values.new}>
        <TextBox label="The old one" type="password" autoComplete="current-password" {...form.bind("old")} />
        <TextBox label="A new one" type="password" autoComplete="new-password" {...form.bind("new")} hint="at least 12 letters; several words are easy to keep in mind" />
      </FormBox>
    </Column>
  );
}
