import { useState } from "react";
import type { Schema } from "../api/client";
import { useAct } from "../common/acting";
import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import { Aside } from "../parts/Bench";
import { Button } from "../parts/Button";
import { TextBox } from "../parts/Field";
import { Columns, Stack } from "../parts/Layout";
import { Hint, Wrong } from "../parts/Words";
import { companyActs, type Mail, type MailOrder } from "./queries";

function useMailForm(mail: Mail) {
  const { senderName, senderAddress, host, user } = mail;
  return useForm({ called: "the mail server", name: `mail:${mail.version}`, initial: { senderName, senderAddress, host, user, port: mail.port ? String(mail.port) : "", password: "" } });
}

const orderOf = ({ port, password, ...rest }: ReturnType<typeof useMailForm>["values"]): MailOrder => ({ ...rest, port: Number(port) || 0, password: password || null });

/** The sender and the server, tried by a letter to oneself before or after they are kept. */
export function MailForm({ mail, words = "Keep", onDone }: { mail: Mail; words?: string; onDone?: () => void }) {
  const form = useMailForm(mail);
  const trial = useAct("here");
  const [answer, setAnswer] = useState<Schema["MailTrial"]>();
  const keep = () => form.send((values) => companyActs.keepMail(mail.version, orderOf(values)), { changes: ["company", "people"], words: "Letters leave this way from now on.", then: onDone });
  const tryIt = () => {
    setAnswer(undefined);
    void trial.run(() => companyActs.tryMail(orderOf(form.values)), { changes: [], then: setAnswer });
  };
  const said = (name: "senderAddress" | "host" | "password") => ({ ...form.bind(name), error: form.said(name) ?? trial.said(name) });
  return (
    <FormBox
      form={form}
      words={words}
      onSend={keep}
      label="Letters"
      beside={
        <Button onPress={tryIt} isPending={trial.busy}>
          Send a letter to myself
        </Button>
      }
    >
      <Where mail={mail} />
      <Columns $of="1fr 1fr" $align="start">
        <TextBox label="Sender's name" {...form.bind("senderName")} />
        <TextBox label="Sender's address" type="email" {...said("senderAddress")} />
      </Columns>
      <Columns $of="3fr 1fr" $align="start">
        <TextBox label="Mail server" placeholder="mail.company.example" isDisabled={mail.isDemo} {...said("host")} />
        <TextBox label="Port" inputMode="numeric" placeholder="587" isDisabled={mail.isDemo} {...form.bind("port")} onChange={(port) => form.set({ port: port.replaceAll(/\D/g, "").slice(0, 5) })} />
      </Columns>
      <Columns $of="1fr 1fr" $align="start">
        <TextBox label="Signs in there as" autoComplete="off" isDisabled={mail.isDemo} {...form.bind("user")} hint="empty where it wants no sign-in" />
        <TextBox label="Password" type="password" autoComplete="new-password" isDisabled={mail.isDemo} {...said("password")} placeholder={mail.hasPassword ? "kept; type to change it" : ""} />
      </Columns>
      {trial.whole("senderAddress", "host", "password") && <Wrong>{trial.whole("senderAddress", "host", "password")}</Wrong>}
      {answer && <Answer of={answer} />}
    </FormBox>
  );
}

function Where({ mail }: { mail: Mail }) {
  if (mail.isDemo) return <Hint>This is the demo: its letters are caught in a folder and leave this machine by no server.</Hint>;
  if (mail.host) return null;
  return <Hint>{mail.isConfigured ? "Whoever runs this machine has named a mail server; it is used until you name one here." : "Without a mail server no letter leaves; what is written waits until there is one."}</Hint>;
}

/** What the server said, word for word: it may have taken a letter that it never brings. */
function Answer({ of: { sent, to, answer, encrypted } }: { of: Schema["MailTrial"] }) {
  return (
    <div role="status">
      <Aside $colour={sent ? "good" : "bad"}>
        <Stack $gap={1}>
          <strong>{sent ? `The letter to ${to} was taken${encrypted ? "" : ", on a way that is not encrypted"}. Look whether it arrives.` : "The letter was not taken."}</strong>
          {answer && <Hint>It was said: {answer}</Hint>}
        </Stack>
      </Aside>
    </div>
  );
}
