import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, must, type Schema } from "../api/client";
import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import { keys } from "../common/keys";
import { Door } from "../parts/Door";
import { TextBox } from "../parts/Field";
import { Block } from "../parts/Layout";
import { Skeleton } from "../parts/States";
import { Tick } from "../parts/Ticks";
import { Hint, Text } from "../parts/Words";
import { ZoneBox } from "../parts/ZoneBox";
import { CodeForm, useEntering } from "../Setup/Entering";
import { machineZone } from "../parts/zones";

type Opened = Schema["WayInView"];

/** The ways in for those who have no password: by an address that opens once, or by asking for one. */
export function WayIn() {
  const [key] = useState(() => location.hash.slice(1));
  return <Door>{location.search === "?in" ? <In /> : key ? <Opening of={key} /> : <Forgotten />}</Door>;
}

/** In a window of its own, so that what was written stays in the other. */
function In() {
  return (
    <Block $above={5}>
      <Text>You are in again. Close this window, and go on in the other.</Text>
    </Block>
  );
}

function Opening({ of }: { of: string }) {
  const link = useQuery({ queryKey: keys.wayIn(of), queryFn: () => must(api.POST("/api/way-in/look", { body: { key: of } })), retry: false, staleTime: Infinity, refetchOnWindowFocus: false });
  if (link.isPending) return <Skeleton rows={3} />;
  if (link.isError)
    return (
      <Block $above={5}>
        <Text role="alert">{link.error.message}</Text>
        <Hint>
          <Link to="/">To the sign-in</Link>, or <Link to="/way-in" reloadDocument>ask for another address</Link>.
        </Hint>
      </Block>
    );
  return <Choosing of={of} link={link.data} />;
}

const heads: Record<Opened["kind"], string> = { begin: "You are the first here", invitation: "Welcome", password: "Another password" };

/** Chooses a password, and is in; the first of all says who they are as well. */
function Choosing({ of, link }: { of: string; link: Opened }) {
  const [isShown, setShown] = useState(false);
  const begins = link.kind === "begin";
  const form = useForm({ called: "your way in", initial: { name: "", email: "", timeZone: machineZone(), password: "" }, asks: false });
  const { name, email, password } = form.values;
  const entering = useEntering(async () => location.assign("/"));
  const [needsCode, setNeedsCode] = useState(false);
  const enter = () => form.send((values) => must(api.POST("/api/way-in", { body: { key: of, ...values } })), { changes: [], then: (next) => (next?.needs === "code" ? setNeedsCode(true) : location.assign("/")) });
  if (needsCode)
    return (
      <Block $above={5}>
        <Text $below={4}>The password is changed. One step more:</Text>
        <CodeForm entering={entering} onBack={() => location.assign("/")} />
      </Block>
    );
  return (
    <Block $above={5}>
      <h2>{heads[link.kind]}</h2>
      <Text $below={4}>
        {begins ? "Nobody administers this workspace yet. Say who you are; you invite the others afterwards." : `${link.name}, choose a password. You sign in as ${link.signInName}, or by your email address.`}
      </Text>
      <FormBox form={form} words={begins ? "Begin" : "Come in"} onSend={enter} isReady={!!password && (!begins || (!!name.trim() && !!email.trim()))}>
        {begins && (
          <>
            <TextBox label="Your name" autoComplete="name" {...form.bind("name")} autoFocus />
            <TextBox label="Your email address" type="email" autoComplete="email" {...form.bind("email")} />
            <ZoneBox label="Your time zone" {...form.bind("timeZone")} />
          </>
        )}
        {/* Password safes keep the name with the password. */}
        {!begins && <input type="text" autoComplete="username" value={link.signInName ?? ""} readOnly hidden />}
        <TextBox label="A password" type={isShown ? "text" : "password"} autoComplete="new-password" {...form.bind("password")} autoFocus={!begins} hint="at least 12 letters; several words are easy to keep in mind" />
        <Tick value={isShown} onChange={setShown}>
          Show what I type
        </Tick>
      </FormBox>
    </Block>
  );
}

function Forgotten() {
  const [isAsked, setAsked] = useState(false);
  const form = useForm({ called: "the name", initial: { name: "" }, asks: false });
  const ask = () => form.send((body) => must(api.POST("/api/way-in/forgotten", { body })), { changes: [], then: () => setAsked(true) });
  return (
    <Block $above={5}>
      <h2>The password is forgotten</h2>
      {isAsked ? (
        <Text role="status" $below={4}>
          If we know you, a letter with an address is on its way; it opens once, within an hour. No letter? An administrator can give you an address.
        </Text>
      ) : (
        <FormBox form={form} words="Send me a letter" onSend={ask} isReady={!!form.values.name.trim()}>
          <TextBox label="Your sign-in name or email address" autoComplete="username" {...form.bind("name")} autoFocus />
        </FormBox>
      )}
      <Block $above={4}>
        <Hint>
          <Link to="/">To the sign-in</Link>
        </Hint>
      </Block>
    </Block>
  );
}
