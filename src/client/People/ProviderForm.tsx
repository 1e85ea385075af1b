import { useState } from "react";
import type { Schema } from "../api/client";
import { useAct } from "../common/acting";
import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import { Aside } from "../parts/Bench";
import { Button } from "../parts/Button";
import { TextBox } from "../parts/Field";
import { count } from "../parts/format";
import { Columns, Stack } from "../parts/Layout";
import { ShownOnce } from "../parts/ShownOnce";
import { Tick, Ticks } from "../parts/Ticks";
import { Hint, Title, Wrong } from "../parts/Words";
import { ProviderMaps } from "./ProviderMaps";
import { providerActs, type Provider, type ProviderOrder } from "./queries";

function useProviderForm({ settings, version }: Provider) {
  const { maps, otherwise, ...rest } = settings;
  return useForm({ called: "the identity provider", name: `provider:${version}`, initial: { ...rest, maps: maps.map((m) => ({ ...m, roles: [...m.roles], teams: [...m.teams] })), otherwise: [...otherwise] as string[], secret: "" } });
}

type Form = ReturnType<typeof useProviderForm>;

const orderOf = ({ secret, ...rest }: Form["values"]): ProviderOrder => ({ ...rest, secret: secret || null });

/** The provider, asked before or after it is kept. */
export function ProviderForm({ provider }: { provider: Provider }) {
  const form = useProviderForm(provider);
  const trial = useAct("here");
  const [answer, setAnswer] = useState<Schema["ProviderTrialView"]>();
  const isOn = !!form.values.issuer.trim();
  const keep = () => form.send((values) => providerActs.keep(provider.version, orderOf(values)), { changes: ["people"], words: isOn ? "People can sign in by it from now on." : "Nobody signs in by a provider any more." });
  const ask = () => {
    setAnswer(undefined);
    void trial.run(() => providerActs.ask(orderOf(form.values)), { changes: [], then: setAnswer });
  };
  const said = (name: "name" | "issuer" | "clientId" | "claim" | "secret") => ({ ...form.bind(name), error: form.said(name) ?? trial.said(name) });
  const others = trial.whole("name", "issuer", "clientId", "claim", "secret", "maps");
  return (
    <FormBox
      form={form}
      words="Keep"
      onSend={keep}
      label="Identity provider"
      beside={
        <Button onPress={ask} isPending={trial.busy} isDisabled={!isOn}>
          Ask it
        </Button>
      }
    >
      {provider.isDemo && <Hint>This is the demo, which asks nobody outside: here only a provider on this machine can be tried.</Hint>}
      <Columns $of="2fr 1fr" $align="start">
        <TextBox label="Address (issuer)" placeholder="https://sign-in.company.example" hint="empty where there is no provider" {...said("issuer")} />
        <TextBox label="Name on the button" {...said("name")} />
      </Columns>
      <Columns $of="1fr 1fr" $align="start">
        <TextBox label="Client" autoComplete="off" hint="the name it knows us by" {...said("clientId")} />
        <TextBox label="Secret" type="password" autoComplete="new-password" placeholder={provider.hasSecret ? "kept; type to change it" : ""} {...said("secret")} />
      </Columns>
      <ShownOnce secret={provider.returnAddress}>The provider has to know this address, to which it sends people back:</ShownOnce>
      <Hint>Where it can tell us that somebody signed out there (back-channel logout), it does so at {provider.endAddress}.</Hint>
      <Who form={form} />
      <Meaning form={form} provider={provider} error={form.said("maps") ?? trial.said("maps")} />
      {provider.linked > 0 && <Hint>{count(provider.linked, "person", "people")} came in by it so far.</Hint>}
      {others && <Wrong>{others}</Wrong>}
      {answer && <Answer of={answer} />}
    </FormBox>
  );
}

/** Whom it lets in, and how far it is believed. */
function Who({ form }: { form: Form }) {
  return (
    <Stack $gap={1}>
      <Title $above={4}>Who comes in</Title>
      <Tick {...form.bind("makes")}>Whoever is not known here is made at their first sign-in</Tick>
      <Tick {...form.bind("trustsAddresses")}>Each email address it sends is the person&rsquo;s own, whether it says so or not</Tick>
      <Tick {...form.bind("countsAsStrong")}>A sign-in there is as good as a second step, whether it says so or not</Tick>
      <Tick {...form.bind("only")}>All but those who administer come in by it alone; their other sessions end</Tick>
      <Tick {...form.bind("signsOut")}>Signing out here ends the session there, too</Tick>
    </Stack>
  );
}

/** What its groups mean. */
function Meaning({ form, provider, error }: { form: Form; provider: Provider; error?: string }) {
  return (
    <Stack $gap={3}>
      <Title $above={4}>Roles and teams by groups</Title>
      <Columns $of="1fr 1fr" $align="start">
        <TextBox label="Claim" {...form.bind("claim")} hint="in which the groups come; with a point for one within another" />
        <TextBox label="Scopes beside openid, profile, email" {...form.bind("scopes")} />
      </Columns>
      <ProviderMaps maps={form.values.maps} onChange={(maps) => form.set({ maps })} provider={provider} error={error} />
      <Ticks label="Whoever is in no group that means a role is" options={provider.roles} {...form.bind("otherwise")} />
      <Hint>With nothing ticked there, they are not let in.</Hint>
      <Tick {...form.bind("follows")}>Take roles and teams over at each sign-in, not at the first alone</Tick>
    </Stack>
  );
}

function Answer({ of: { good, findings } }: { of: Schema["ProviderTrialView"] }) {
  return (
    <div role="status">
      <Aside $colour={good ? "good" : "bad"}>
        <Stack $gap={1}>
          <strong>{good ? "It answers as it should." : "It cannot be used as it is."}</strong>
          {findings.map((f) => (
            <Hint key={f.words}>{f.words}</Hint>
          ))}
        </Stack>
      </Aside>
    </div>
  );
}
