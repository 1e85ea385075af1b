import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Form } from "react-aria-components";
import styled from "styled-components";
import { api, must, setToken } from "../api/client";
import { Button } from "../parts/Button";
import { Overlay } from "../parts/Dialog";
import { TextBox } from "../parts/Field";
import { Mark } from "../parts/Mark";
import { serif, small } from "../parts/theme";
import type { Session } from "../common/session";
import { keys } from "../common/keys";

const Page = styled.main`
  min-height: 100%;
  display: grid;
  grid-template-columns: minmax(300px, 380px) minmax(300px, 420px);
  gap: 72px;
  align-content: center;
  justify-content: center;
  padding: 40px 24px;
  @media (max-width: 767px) {
    grid-template-columns: 1fr;
    gap: 40px;
  }
  form {
    display: flex;
    flex-direction: column;
    gap: 14px;
    margin-top: 24px;
  }
`;

const Name = styled.h1`
  ${serif}
  font-size: 34px;
  display: flex;
  align-items: center;
  gap: 14px;
`;

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

const Stay = styled.label`
  display: flex;
  gap: 8px;
  align-items: center;
  font-size: 14px;
`;

const Again = styled.p`
  color: var(--soft);
  margin-bottom: 12px;
`;

const Fields = styled(Form)`
  display: grid;
  gap: 12px;
`;

type CredentialsProps = { name: string; password: string; onName: (name: string) => void; onPassword: (password: string) => void; error?: string; autoFocus?: boolean };

function Credentials({ name, password, onName, onPassword, error, autoFocus }: CredentialsProps) {
  return (
    <>
      <TextBox label="Name" value={name} onChange={onName} autoComplete="username" name="name" autoFocus={autoFocus} />
      <TextBox label="Password" type="password" value={password} onChange={onPassword} autoComplete="current-password" name="password" error={error} />
    </>
  );
}

/** Asks again in place when a session has ended: the page under it stays as it is, with what was written. Somebody else begins on a page of their own. */
export function SignInAgain({ person, onDone }: { person: Session; onDone: () => void }) {
  const queries = useQueryClient();
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const [error, setError] = useState<string>();
  const enter = async () => {
    try {
      await must(api.POST("/api/session", { body: { name, password, stay: false } }));
      const session = await must(api.GET("/api/session"));
      setToken(session.token);
      if (session.id !== person.id) return window.location.assign("/desk");
      queries.setQueryData(keys.session, session);
      onDone();
    } catch (e) {
      setError((e as Error).message);
    }
  };
  return (
    <Overlay title="You are signed out" isOpen onClose={() => undefined} unsaved width={420}>
      <Again>Sign in again, {person.name}; what you wrote is still on the page behind this.</Again>
      <Fields
        onSubmit={(e) => {
          e.preventDefault();
          void enter();
        }}
      >
        <Credentials name={name} password={password} onName={setName} onPassword={setPassword} error={error} autoFocus />
        <div>
          <Button look="main" type="submit">
            Sign in
          </Button>
        </div>
      </Fields>
    </Overlay>
  );
}

/** The way in. A demo installation shows its people; a press signs in as one. */
export function SignIn() {
  const queries = useQueryClient();
  const [stay, setStay] = useState(false);
  const demo = useQuery({ queryKey: keys.demo, queryFn: () => must(api.GET("/api/demo-sign-ins")) });
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const [error, setError] = useState<string>();
  const [busy, setBusy] = useState(false);

  const enter = async (as = { name, password }) => {
    setBusy(true);
    setError(undefined);
    try {
      await must(api.POST("/api/session", { body: { ...as, stay } }));
      await queries.invalidateQueries({ queryKey: keys.session });
    } catch (e) {
      setError((e as Error).message);
    } finally {
      setBusy(false);
    }
  };

  return (
    <Page>
      <div>
        <Name>
          <Mark size={40} /> Dapper Lantern
        </Name>
        <Form
          onSubmit={(e) => {
            e.preventDefault();
            void enter();
          }}
        >
          <Credentials name={name} password={password} onName={setName} onPassword={setPassword} error={error} />
          <Stay>
            <input type="checkbox" checked={stay} onChange={(e) => setStay(e.target.checked)} /> Stay signed in on this machine
          </Stay>
          <div>
            <Button look="main" type="submit" isDisabled={busy}>
              Sign in
            </Button>
          </div>
        </Form>
      </div>
      {!!demo.data?.length && (
        <section aria-label="People of the demo">
          <h2>Tarnhollow Instruments, a demo</h2>
          <p style={{ color: "var(--soft)" }}>Everybody and everything in it is invented. Come in as:</p>
          <People>
            {demo.data.map((p) => (
              <li key={p.name}>
                <button type="button" disabled={busy} onClick={() => void enter({ name: p.name, password: p.password })}>
                  {p.displayName}
                  <span>{p.role}</span>
                </button>
              </li>
            ))}
          </People>
        </section>
      )}
    </Page>
  );
}
