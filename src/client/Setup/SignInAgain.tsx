import { useQueryClient } from "@tanstack/react-query";
import { api, must, setToken } from "../api/client";
import { keys } from "../common/keys";
import { useRefresh } from "../common/refresh";
import type { Session } from "../common/session";
import { Overlay } from "../parts/Dialog";
import { Stack } from "../parts/Layout";
import { forgetErrors } from "../parts/Toast";
import { Hint } from "../parts/Words";
import { EnteringForm, useEntering } from "./Entering";

/** Asks again in place when a session has ended: the page under it stays as it is, with what was written. Somebody else begins on a page of their own. */
export function SignInAgain({ person, onDone }: { person: Session; onDone: () => void }) {
  const queries = useQueryClient();
  const refresh = useRefresh();
  const entering = useEntering(async () => {
    const session = await must(api.GET("/api/session"));
    setToken(session.token);
    if (session.id !== person.id) return window.location.assign("/desk");
    queries.setQueryData(keys.session, session);
    // What was asked for while nobody was signed in has no answer.
    forgetErrors();
    void refresh(["everything"]);
    onDone();
  });
  return (
    <Overlay title="You are signed out" isOpen onClose={() => undefined} unsaved width={420}>
      <Stack>
        <Hint>Sign in again, {person.name}; what you wrote is still on the page behind this.</Hint>
        <EnteringForm entering={entering} autoFocus />
      </Stack>
    </Overlay>
  );
}
