import { useState } from "react";
import styled from "styled-components";
import { canUsePasskeys } from "../common/passkeys";
import { useSession } from "../common/session";
import { Notice } from "../parts/Bench";
import { Button } from "../parts/Button";
import { count, moment } from "../parts/format";
import { Row } from "../parts/Layout";
import { ShownOnce } from "../parts/ShownOnce";
import { ErrorNote, Skeleton } from "../parts/States";
import { Hint, Text } from "../parts/Words";
import { AddPasskey, CodesSetUp, Proof } from "./SecondStepForms";
import { secondStepActs, useSecondStep, type SecondStepView } from "./secondStep";

const Section = styled.section`
  max-width: 560px;
  margin: 16px 0 28px;
  ul {
    list-style: none;
    padding: 0;
    font-size: 14px;
  }
  li {
    display: flex;
    justify-content: space-between;
    align-items: center;
    gap: 12px;
    border-bottom: 1px solid var(--hair);
    padding: 6px 0;
  }
`;

type Opened = { act: "codes" | "endCodes" | "recovery" | "passkey" } | { act: "endPasskey"; id: string; name: string };

/** Codes and passkeys of whoever is signed in. */
export function SecondStep() {
  const own = useSecondStep();
  const [opened, setOpened] = useState<Opened>();
  const [codes, setCodes] = useState<readonly string[]>();
  const close = () => setOpened(undefined);
  const renew = (made: { codes: readonly string[] }) => {
    setCodes(made.codes);
    close();
  };
  return (
    <Section aria-label="Second step at the sign-in">
      <h2>Second step at the sign-in</h2>
      {own.isPending && <Skeleton rows={2} />}
      {own.isError && <ErrorNote error={own.error} />}
      {codes && <Recovery codes={codes} />}
      {own.data && <Standing own={own.data} onOpen={setOpened} />}
      {opened?.act === "codes" && <CodesSetUp onDone={setCodes} onClose={close} />}
      {opened?.act === "passkey" && <AddPasskey onClose={close} />}
      {opened?.act === "endCodes" && <Proof title="End the codes" words="End them" work={secondStepActs.endCodes} said="Codes are asked for no more." onClose={close} />}
      {opened?.act === "recovery" && <Proof title="New codes for the day the device is lost" words="Make new ones" work={secondStepActs.recovery} onDone={renew} onClose={close} />}
      {opened?.act === "endPasskey" && <Proof title={`End ${opened.name}`} words="End it" work={(password) => secondStepActs.endPasskey(opened.id, password)} said="That passkey lets nobody in any more." onClose={close} />}
    </Section>
  );
}

function Recovery({ codes }: { codes: readonly string[] }) {
  return (
    <ShownOnce secret={codes.join("\n")}>
      <strong>For the day your device is lost.</strong> Each of these lets you in once in place of a code. They are shown this once; keep them where the device is not.
    </ShownOnce>
  );
}

function Standing({ own, onOpen }: { own: SecondStepView; onOpen: (opened: Opened) => void }) {
  if (!own.mayChange) return <Notice $colour="lamp">This session began by password alone. To change your second step, sign out and come in with it.</Notice>;
  return (
    <>
      {own.required && !own.hasCodes && own.passkeys.length === 0 && <Notice $colour="lamp">Your role signs in with a second step. Make one to go on.</Notice>}
      <Codes own={own} onOpen={onOpen} />
      <Passkeys own={own} onOpen={onOpen} />
    </>
  );
}

function Codes({ own, onOpen }: { own: SecondStepView; onOpen: (opened: Opened) => void }) {
  if (!own.hasCodes)
    return (
      <>
        <Text $below={2}>A device of yours shows a new code every half minute; it is asked for after the password.</Text>
        <Button onPress={() => onOpen({ act: "codes" })}>Set up codes</Button>
      </>
    );
  return (
    <>
      <Text $below={2}>
        Codes are asked for after your password. {count(own.recoveryLeft, "code")} {own.recoveryLeft === 1 ? "is" : "are"} left for the day the device is lost.
      </Text>
      <Row>
        <Button onPress={() => onOpen({ act: "recovery" })}>New codes for that day</Button>
        <Button look="quiet" onPress={() => onOpen({ act: "endCodes" })}>
          End the codes
        </Button>
      </Row>
    </>
  );
}

function Passkeys({ own, onOpen }: { own: SecondStepView; onOpen: (opened: Opened) => void }) {
  const { timeZone } = useSession();
  const may = canUsePasskeys();
  return (
    <>
      <Text $above={5} $below={2}>A passkey lets you in by the finger, face or number that opens your device, without password and code.</Text>
      {own.passkeys.length > 0 && (
        <ul>
          {own.passkeys.map((p) => (
            <li key={p.id}>
              {p.name}, made {moment(p.madeAt, timeZone)}
              <Button look="quiet" aria-label={`End ${p.name}`} onPress={() => onOpen({ act: "endPasskey", id: p.id, name: p.name })}>
                End
              </Button>
            </li>
          ))}
        </ul>
      )}
      {may ? (
        <Button onPress={() => onOpen({ act: "passkey" })}>Make a passkey</Button>
      ) : (
        <Hint>Passkeys belong to a name: open this by its name in place of an address of numbers{isSecureContext ? "" : ", and by https"}.</Hint>
      )}
    </>
  );
}
