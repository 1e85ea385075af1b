import { useState, type FormEvent } from "react";
import { Link } from "react-router";
import { ApiError, api, must } from "../api/client";
import { useAct } from "../common/acting";
import { answerByPasskey, canUsePasskeys } from "../common/passkeys";
import { Button } from "../parts/Button";
import { TextBox } from "../parts/Field";
import { Row, Stack } from "../parts/Layout";
import { Tick } from "../parts/Ticks";
import { Hint, Wrong } from "../parts/Words";
import { Credentials, type Typed } from "./Credentials";

/** Signs in, by as many steps as it takes. */
export function useEntering(onIn: () => Promise<unknown>) {
  const { run, busy, any } = useAct("here");
  const [needsCode, setNeedsCode] = useState(false);
  return {
    busy,
    error: any,
    needsCode,
    byPassword: (typed: Typed, stay: boolean) =>
      run(
        async () => {
          const next = await must(api.POST("/api/session", { body: { ...typed, stay } }));
          if (next?.needs === "code") setNeedsCode(true);
          else await onIn();
        },
        { changes: [] },
      ),
    byCode: (code: string) =>
      run(
        async () => {
          await must(api.POST("/api/session/code", { body: { code } }));
          await onIn();
        },
        {
          changes: [],
          refused: (e) => {
            if (e instanceof ApiError && e.type === "/problems/half-over") setNeedsCode(false);
            return false;
          },
        },
      ),
    byPasskey: (stay: boolean) =>
      run(
        async () => {
          const { options } = await must(api.POST("/api/session/passkey/options"));
          await must(api.POST("/api/session/passkey", { body: { credential: await answerByPasskey(options), stay } }));
          await onIn();
        },
        { changes: [] },
      ),
    back: () => setNeedsCode(false),
  };
}

export type Entering = ReturnType<typeof useEntering>;

const held = (send: () => void) => (e: FormEvent) => {
  e.preventDefault();
  send();
};

type Props = { entering: Entering; autoFocus?: boolean; /** Whether one may stay signed in, and find one's way in without a password. */ isWhole?: boolean };

/** Name and password, or a passkey; then the code, where one is asked for. */
export function EnteringForm({ entering, autoFocus, isWhole }: Props) {
  const [typed, setTyped] = useState({ name: "", password: "" });
  const [stay, setStay] = useState(false);
  if (entering.needsCode) return <CodeForm entering={entering} />;
  return (
    <Stack as="form" $gap={4} onSubmit={held(() => void entering.byPassword(typed, stay))}>
      <Credentials typed={typed} onType={setTyped} error={entering.error} autoFocus={autoFocus} />
      {isWhole && (
        <Tick value={stay} onChange={setStay}>
          Stay signed in on this machine
        </Tick>
      )}
      <Row>
        <Button look="main" type="submit" isPending={entering.busy}>
          Sign in
        </Button>
        {canUsePasskeys() && (
          <Button isPending={entering.busy} onPress={() => void entering.byPasskey(stay)}>
            By passkey
          </Button>
        )}
      </Row>
      {isWhole && (
        <Hint>
          <Link to="/way-in">The password is forgotten</Link>
        </Hint>
      )}
    </Stack>
  );
}

/** The second step: a code of the device, or one of those for the day it is lost. */
export function CodeForm({ entering, onBack = entering.back }: { entering: Entering; onBack?: () => void }) {
  const [code, setCode] = useState("");
  return (
    <Stack as="form" $gap={4} onSubmit={held(() => void entering.byCode(code))}>
      <TextBox label="The code your device shows" value={code} onChange={setCode} autoComplete="one-time-code" autoFocus hint="six digits; or one of the codes you kept for the day the device is lost" />
      {entering.error && <Wrong>{entering.error}</Wrong>}
      <Row>
        <Button look="main" type="submit" isPending={entering.busy} isDisabled={!code.trim()}>
          Sign in
        </Button>
        <Button look="quiet" onPress={onBack}>
          Begin again
        </Button>
      </Row>
    </Stack>
  );
}
