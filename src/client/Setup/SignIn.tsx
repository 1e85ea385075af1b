import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { useAct } from "../common/acting";
import { keys } from "../common/keys";
import { Button } from "../parts/Button";
import { Door } from "../parts/Door";
import { Stack } from "../parts/Layout";
import { small } from "../parts/theme";
import { Tick } from "../parts/Ticks";
import { Hint } from "../parts/Words";
import { Credentials, type Typed } from "./Credentials";

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
  const enter = useEnter();
  const demo = useQuery({ queryKey: keys.demo, queryFn: () => must(api.GET("/api/demo-sign-ins")) });
  return (
    <Door beside={!!demo.data?.length && <Demo people={demo.data} enter={enter} />}>
      <SignInForm enter={enter} />
    </Door>
  );
}

type Enter = ReturnType<typeof useEnter>;

function useEnter() {
  const queries = useQueryClient();
  const { run, busy, any } = useAct("here");
  const enter = async (typed: Typed, stay: boolean) => {
    await must(api.POST("/api/session", { body: { ...typed, stay } }));
    await queries.invalidateQueries({ queryKey: keys.session });
  };
  return { run: (typed: Typed, stay: boolean) => run(() => enter(typed, stay), { changes: [] }), error: any, busy };
}

function SignInForm({ enter }: { enter: Enter }) {
  const [typed, setTyped] = useState({ name: "", password: "" });
  const [stay, setStay] = useState(false);
  return (
    <Stack
      as="form"
      $gap={4}
      onSubmit={(e: React.FormEvent) => {
        e.preventDefault();
        void enter.run(typed, stay);
      }}
    >
      <Credentials typed={typed} onType={setTyped} error={enter.error} />
      <Tick value={stay} onChange={setStay}>
        Stay signed in on this machine
      </Tick>
      <div>
        <Button look="main" type="submit" isPending={enter.busy}>
          Sign in
        </Button>
      </div>
      <Hint>
        <Link to="/way-in">The password is forgotten</Link>
      </Hint>
    </Stack>
  );
}

function Demo({ people, enter }: { people: Schema["DemoSignIn"][]; enter: Enter }) {
  return (
    <section aria-label="People of the demo">
      <h2>Tarnhollow Instruments, a demo</h2>
      <Hint>Everybody and everything in it is invented. Come in as:</Hint>
      <People>
        {people.map((p) => (
          <li key={p.name}>
            <button type="button" disabled={enter.busy} onClick={() => void enter.run(p, false)}>
              {p.displayName}
              <span>{p.role}</span>
            </button>
          </li>
        ))}
      </People>
    </section>
  );
}
