import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, must, setToken } from "../api/client";
import { useAct } from "../common/acting";
import { keys } from "../common/keys";
import type { Session } from "../common/session";
import { Button } from "../parts/Button";
import { Overlay } from "../parts/Dialog";
import { forgetErrors } from "../parts/Toast";
import { Stack } from "../parts/Layout";
import { Hint } from "../parts/Words";
import { Credentials } from "./Credentials";

/** Asks again in place when a session has ended: the page under it stays as it is, with what was written. Somebody else begins on a page of their own. */
export function SignInAgain({ person, onDone }: { person: Session; onDone: () => void }) {
  const queries = useQueryClient();
  const [typed, setTyped] = useState({ name: "", password: "" });
  const { run, busy, any } = useAct("here");
  const enter = async () => {
    await must(api.POST("/api/session", { body: { ...typed, stay: false } }));
    const session = await must(api.GET("/api/session"));
    setToken(session.token);
    if (session.id !== person.id) return window.location.assign("/desk");
    queries.setQueryData(keys.session, session);
    onDone();
  };
  return (
    <Overlay title="You are signed out" isOpen onClose={() => undefined} unsaved width={420}>
      <Stack
        as="form"
        onSubmit={(e: React.FormEvent) => {
          e.preventDefault();
          // What was asked for while nobody was signed in has no answer.
          void run(enter, { changes: ["everything"], then: forgetErrors });
        }}
      >
        <Hint>Sign in again, {person.name}; what you wrote is still on the page behind this.</Hint>
        <Credentials typed={typed} onType={setTyped} error={any} autoFocus />
        <div>
          <Button look="main" type="submit" isPending={busy}>
            Sign in
          </Button>
        </div>
      </Stack>
    </Overlay>
  );
}
