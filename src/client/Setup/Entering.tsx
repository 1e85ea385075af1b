import { useQuery } from "@tanstack/react-query";
import { useState, type FormEvent, type ReactNode } from "react";
import { Link } from "react-router";
import { ApiError, api, must } from "../api/client";
import { useAct } from "../common/acting";
import { keys } from "../common/keys";
import { answerByPasskey, canUsePasskeys } from "../common/passkeys";
import { Button } from "../parts/Button";
import { TextBox } from "../parts/Field";
import { Row, Stack } from "../parts/Layout";
import { Tick } from "../parts/Ticks";
import { Hint, Wrong } from "../parts/Words";
import { Credentials, type Typed } from "./Credentials";

/** How one can come in; asked once, since it says once why the identity provider let nobody in. */
const useWays = () => useQuery({ queryKey: keys.ways, queryFn: () => must(api.GET("/api/session/ways")), staleTime: Infinity, refetchOnWindowFocus: false, retry: false });

/** Signs in, by as many steps as it takes. */
export function useEntering(onIn: () => Promise<unknown>) {
  const { run, busy, any } = useAct("here");
  const ways = useWays();
  const [isCodeAsked, setNeedsCode] = useState<boolean>();
  return {
    busy,
    error: any,
    needsCode: isCodeAsked ?? ways.data?.needsCode ?? false,
    ways: ways.data,
    again: () => run(onIn, { changes: [] }),
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

/** The identity provider, name and password, or a passkey; then the code, where one is asked for. */
export function EnteringForm({ entering, autoFocus, isWhole }: Props) {
  const [stay, setStay] = useState(false);
  const [isOther, setOther] = useState(false);
  const { ways } = entering;
  if (entering.needsCode) return <CodeForm entering={entering} />;
  const byPassword = !ways?.only || isOther;
  const staying = isWhole && (
    <Tick value={stay} onChange={setStay}>
      Stay signed in on this machine
    </Tick>
  );
  return (
    <Stack $gap={4} $above={ways?.provider ? 5 : undefined}>
      {isWhole && ways?.refused && <Wrong>{ways.refused}</Wrong>}
      {ways?.provider && <ByProvider name={ways.provider} stay={stay} isWhole={isWhole} entering={entering} />}
      {byPassword ? (
        <ByPassword entering={entering} autoFocus={autoFocus && !ways?.provider} isWhole={isWhole} stay={stay} isSecond={!!ways?.provider}>
          {staying}
        </ByPassword>
      ) : (
        <>
          {staying}
          <Row>
            <Button look="quiet" onPress={() => setOther(true)}>
              By password, for those who administer
            </Button>
          </Row>
        </>
      )}
    </Stack>
  );
}

/** Goes to the provider and comes back; where what was written is to stay on the page, in a window of its own. */
function ByProvider({ name, stay, isWhole, entering }: { name: string; stay: boolean; isWhole?: boolean; entering: Entering }) {
  const [isAway, setAway] = useState(false);
  const path = isWhole ? location.pathname + location.search : "/way-in?in";
  const address = `/api/session/provider?stay=${stay}&path=${encodeURIComponent(path)}`;
  const go = () => {
    if (isWhole) return location.assign(address);
    window.open(address, "_blank");
    setAway(true);
  };
  return (
    <>
      <Row>
        <Button look="main" onPress={go}>
          Sign in with {name}
        </Button>
        {isAway && (
          <Button isPending={entering.busy} onPress={() => void entering.again()}>
            I am in again
          </Button>
        )}
      </Row>
      {isAway && entering.error && <Wrong>{entering.error}</Wrong>}
    </>
  );
}

type ByPasswordProps = Props & { stay: boolean; /** Whether another way stands above it. */ isSecond: boolean; children?: ReactNode };

function ByPassword({ entering, autoFocus, isWhole, stay, isSecond, children }: ByPasswordProps) {
  const [typed, setTyped] = useState({ name: "", password: "" });
  return (
    <Stack as="form" $gap={4} onSubmit={held(() => void entering.byPassword(typed, stay))}>
      <Credentials typed={typed} onType={setTyped} error={entering.error} autoFocus={autoFocus} />
      {children}
      <Row>
        <Button look={isSecond ? "plain" : "main"} type="submit" isPending={entering.busy}>
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
