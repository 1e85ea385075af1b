import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Form } from "react-aria-components";
import styled from "styled-components";
import { api, must } from "../api/client";
import { useActing, useSending } from "../common/acting";
import { Bench, Inner, Pane } from "../parts/Bench";
import { Button } from "../parts/Button";
import { ChoiceBox, TextBox } from "../parts/Field";
import { exact, moment } from "../parts/format";
import { Skeleton, ErrorNote } from "../parts/States";
import { small } from "../parts/theme";
import { tell } from "../parts/Toast";
import { useSession } from "../common/session";
import { keys } from "../common/keys";

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

const Fields = styled(Form)`
  display: grid;
  gap: 10px;
`;

const numbers = [
  { key: "either", label: "ask me where it is not clear" },
  { key: "point", label: "1,234.56" },
  { key: "comma", label: "1.234,56" },
] as const;

/** Where one is signed in, one's password, and how one writes numbers. */
export function SessionsPage() {
  const me = useSession();
  const queries = useQueryClient();
  const act = useActing();
  const sessions = useQuery({ queryKey: keys.sessions, queryFn: () => must(api.GET("/api/sessions")) });
  const write = (key: string) =>
    act(async () => {
      await must(api.PUT("/api/session/numbers", { body: { numbers: key as (typeof numbers)[number]["key"] } }));
      await queries.invalidateQueries({ queryKey: keys.session });
    }, "Kept.");
  return (
    <Bench>
      <Pane>
        <Narrow>
          <h1>You and your sessions</h1>
          <Column aria-label="Numbers">
            <ChoiceBox label="How you write numbers" value={me.numbers} options={[...numbers]} onChange={(key) => void write(key)} />
          </Column>
          <h2>Signed in</h2>
          {sessions.isPending && <Skeleton rows={3} />}
          {sessions.isError && <ErrorNote error={sessions.error} />}
          <Rows>
            {sessions.data?.map((s) => (
              <li key={s.id}>
                <span>
                  {me.role === "administrator" && <b>{s.person}: </b>}
                  {browser(s.agent)} {s.this && "(this one)"}
                  <small title={exact(s.seenAt, me.timeZone)}>
                    from {s.address || "an unknown address"}, last seen {moment(s.seenAt, me.timeZone)}
                    {s.stays && ", stays signed in"}
                  </small>
                </span>
                {!s.this && (
                  <Button look="quiet" onPress={() => void act(() => must(api.DELETE("/api/sessions/{id}", { params: { path: { id: s.id } } })), "That session has ended.")}>
                    End it
                  </Button>
                )}
              </li>
            ))}
          </Rows>
          <Password />
        </Narrow>
      </Pane>
    </Bench>
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
  const [old, setOld] = useState("");
  const [fresh, setFresh] = useState("");
  const { busy, send, said, whole } = useSending();
  const keep = () =>
    send(async () => {
      await must(api.PUT("/api/session/password", { body: { old, new: fresh } }));
      setOld("");
      setFresh("");
      tell("Your password is changed; your other sessions have ended.");
    });
  return (
    <Column aria-label="Password">
      <h2>Password</h2>
      <Fields
        onSubmit={(e) => {
          e.preventDefault();
          void keep();
        }}
      >
        <TextBox label="The old one" type="password" autoComplete="current-password" value={old} onChange={setOld} error={said("old")} />
        <TextBox label="A new one" type="password" autoComplete="new-password" value={fresh} onChange={setFresh} error={said("new") ?? whole} hint="at least 12 letters; several words are easy to keep in mind" />
        <div>
          <Button type="submit" isDisabled={busy || !old || !fresh}>
            Change it
          </Button>
        </div>
      </Fields>
    </Column>
  );
}
