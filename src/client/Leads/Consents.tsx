import { useState } from "react";
import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import { useSession } from "../common/session";
import { Button } from "../parts/Button";
import { Overlay } from "../parts/Dialog";
import { TextBox } from "../parts/Field";
import { exact } from "../parts/format";
import { Unseen } from "../parts/Layout";
import { small } from "../parts/theme";
import { Text } from "../parts/Words";
import type { Sheet } from "./queries";

const Said = styled.button`
  border: 0;
  background: none;
  padding: 3px 0;
  cursor: pointer;
  text-align: left;
  small {
    ${small}
    margin-left: 6px;
  }
  &:disabled {
    cursor: default;
    color: inherit;
  }
  &:not(:disabled):hover {
    box-shadow: inset 0 -1px 0 var(--slate);
  }
`;

const Mark = styled.span<{ $colour: string }>`
  color: var(--${(p) => p.$colour});
  font-weight: 700;
`;

const states: Record<string, string> = { given: "given", withdrawn: "withdrawn", asked: "to be confirmed by email", unknown: "not known" };
const marks: Record<string, string> = { given: "✓", withdrawn: "✕", asked: "…", unknown: "–" };
const colours: Record<string, string> = { given: "good", withdrawn: "bad" };

type Consent = Schema["ConsentView"];

/** What the person agreed to, purpose by purpose; a press says more, and takes down what they say now. */
export function Consents({ lead, consents, mayWrite }: { lead: Sheet; consents: Consent[]; mayWrite: boolean }) {
  const [about, setAbout] = useState<Consent>();
  return (
    <>
      {consents.map((c) => (
        <OneConsent key={c.purpose} consent={c} mayWrite={mayWrite} onPress={() => setAbout(c)} />
      ))}
      {about && <Say lead={lead} consent={about} onDone={() => setAbout(undefined)} />}
    </>
  );
}

function OneConsent({ consent, mayWrite, onPress }: { consent: Consent; mayWrite: boolean; onPress: () => void }) {
  const { timeZone } = useSession();
  const title = consent.at ? `${exact(consent.at, timeZone)}. ${consent.place}${consent.wording ? `: “${consent.wording}”` : ""}` : "Nothing was said about it.";
  return (
    <Said disabled={!mayWrite} onClick={onPress} title={title}>
      <Mark aria-hidden $colour={colours[consent.state] ?? "soft"}>
        {marks[consent.state]}
      </Mark>{" "}
      {consent.label}
      {consent.state === "given" ? <Unseen>, given</Unseen> : <small>{states[consent.state]}</small>}
    </Said>
  );
}

const told = (state: string) => (state === "given" ? "Kept with your name, the time and the words." : "Withdrawn. Nothing of this purpose goes out any more.");

function Say({ lead, consent, onDone }: { lead: Sheet; consent: Consent; onDone: () => void }) {
  const form = useForm({ called: "the words of the consent", name: `${lead.id}:consent:${consent.purpose}`, initial: { wording: "" } });
  const say = (state: string) =>
    form.send(({ wording }) => must(api.POST("/api/leads/{id}/consents", { params: { path: { id: lead.id } }, body: { purpose: consent.purpose, state, wording } })), { changes: ["around"], words: told(state), then: onDone });
  const withdraw = (
    <Button look="bad" onPress={() => void say("withdrawn")}>
      They withdrew
    </Button>
  );
  return (
    <Overlay title={consent.label} isOpen onClose={onDone} width={460} unsaved={form}>
      <FormBox form={form} words="They agreed" onSend={() => say("given")} beside={withdraw}>
        <Text>
          {states[consent.state]}
          {consent.wording && `: “${consent.wording}”`}
          {consent.place && ` (${consent.place})`}
        </Text>
        <TextBox label="They agreed in these words" lines autoFocus {...form.bind("wording")} />
      </FormBox>
    </Overlay>
  );
}
