import { useState } from "react";
import styled from "styled-components";
import { encode } from "uqr";
import type { Schema } from "../api/client";
import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import { Overlay } from "../parts/Dialog";
import { TextBox } from "../parts/Field";
import { Text, Wrong } from "../parts/Words";
import { secondStepActs, useSecondStep } from "./secondStep";

type ProofProps<T> = { title: string; words: string; work: (password: string) => Promise<T>; said?: string; /** In place of closing it. */ onDone?: (answer: T) => void; onClose: () => void };

/** False where the sign-in at the identity provider, a moment ago, stands for the password. */
const useAsksPassword = () => useSecondStep().data?.asksPassword !== false;

/** Something about the second step that is done only with the password: a browser left open does not do it. */
export function Proof<T>({ title, words, work, said, onDone, onClose }: ProofProps<T>) {
  const asksPassword = useAsksPassword();
  const form = useForm({ called: "your password", initial: { password: "" }, asks: false });
  const send = () =>
    form.send(({ password }) => work(password), {
      changes: ["secondStep"],
      words: said,
      then: onDone ?? onClose,
    });
  return (
    <Overlay title={title} isOpen onClose={onClose} width={420} unsaved={form}>
      <FormBox form={form} words={words} onSend={send} isReady={!asksPassword || !!form.values.password}>
        {asksPassword ? <TextBox label="Your password" type="password" autoComplete="current-password" {...form.bind("password")} autoFocus /> : <Said error={form.said("password")} />}
      </FormBox>
    </Overlay>
  );
}

/** Makes a passkey on this device. */
export function AddPasskey({ onClose }: { onClose: () => void }) {
  const asksPassword = useAsksPassword();
  const form = useForm({ called: "your passkey", initial: { name: "", password: "" }, asks: false });
  const send = () => form.send(({ password, name }) => secondStepActs.addPasskey(password, name), { changes: ["secondStep", "session"], words: "The passkey is made; it lets you in from now on.", then: onClose });
  return (
    <Overlay title="Make a passkey" isOpen onClose={onClose} width={420} unsaved={form}>
      <FormBox form={form} words="Make it" onSend={send} isReady={!asksPassword || !!form.values.password}>
        <TextBox label="What you call the device" {...form.bind("name")} hint="for instance: the blue laptop" autoFocus />
        {asksPassword ? <TextBox label="Your password" type="password" autoComplete="current-password" {...form.bind("password")} /> : <Said error={form.said("password")} />}
      </FormBox>
    </Overlay>
  );
}

const Said = ({ error }: { error?: string }) => (error ? <Wrong>{error}</Wrong> : <Text>You came in by the identity provider a moment ago; that is proof enough.</Text>);

type Key = Schema["CodeKeyView"];

/** Sets codes up: the password, then the key for the device, then its first code. */
export function CodesSetUp({ onDone, onClose }: { onDone: (codes: readonly string[]) => void; onClose: () => void }) {
  const [key, setKey] = useState<Key>();
  if (!key) return <Proof title="Set up codes" words="Go on" work={secondStepActs.newKey} onDone={setKey} onClose={onClose} />;
  return <FirstCode of={key} onDone={onDone} onClose={onClose} />;
}

const Picture = styled.svg`
  width: 200px;
  height: 200px;
  background: white;
  margin: 0 auto;
`;

function FirstCode({ of, onDone, onClose }: { of: Key; onDone: (codes: readonly string[]) => void; onClose: () => void }) {
  const form = useForm({ called: "the first code", initial: { code: "" }, asks: false });
  const send = () =>
    form.send(({ code }) => secondStepActs.confirm(code), {
      changes: ["secondStep", "session"],
      words: "Codes are asked for from now on.",
      then: ({ codes }) => {
        onDone(codes);
        onClose();
      },
    });
  return (
    <Overlay title="Set up codes" isOpen onClose={onClose} width={420} unsaved={form}>
      <FormBox form={form} words="Ask me for codes" onSend={send} isReady={!!form.values.code.trim()}>
        <Text>Let your device read this, or type the key into it:</Text>
        <Code text={of.address} />
        <Text>
          <code>{of.key.match(/.{1,4}/g)!.join(" ")}</code>
        </Text>
        <TextBox label="The code it shows now" autoComplete="one-time-code" {...form.bind("code")} autoFocus />
      </FormBox>
    </Overlay>
  );
}

/** A QR code (ISO/IEC 18004), black on white at night too: that is what cameras read. */
function Code({ text }: { text: string }) {
  const { data, size } = encode(text, { border: 2 });
  const path = data.flatMap((row, y) => row.flatMap((isDark, x) => (isDark ? [`M${x} ${y}h1v1h-1z`] : []))).join("");
  return (
    <Picture viewBox={`0 0 ${size} ${size}`} role="img" aria-label="The key as a picture for your device; the same stands below in letters" shapeRendering="crispEdges">
      <path d={path} fill="black" />
    </Picture>
  );
}
