import { useState } from "react";
import styled from "styled-components";
import { useAct } from "../../common/acting";
import { useForm } from "../../common/form";
import { FormBox } from "../../common/FormBox";
import { keys } from "../../common/keys";
import { ChoiceBox, TextBox } from "../../parts/Field";
import { Columns } from "../../parts/Layout";
import { useLeadAct, type Sheet } from "../queries";
import { acts, useTemplates, type Draft } from "./queries";

const Tall = styled.div`
  textarea {
    min-height: 150px;
  }
`;

/** A message, from a template or of one's own: looked over before it goes, and only to those we may write to. */
export function MessageForm({ lead }: { lead: Sheet }) {
  const templates = useTemplates().data ?? [];
  const { show } = useLeadAct(lead.id);
  const filling = useAct();
  const [filled, setFilled] = useState<Draft>();
  const form = useForm({ called: "the message", name: `${lead.id}:message`, initial: { template: "", subject: "", text: "" } });
  // The same message sent twice is one message.
  const [id, setId] = useState(() => crypto.randomUUID());
  const email = lead.facts.find((f) => f.key === "email")?.value;
  const choose = (template: string) =>
    void filling.run(() => acts.draft(lead.id, template), {
      changes: [],
      then: (draft) => {
        setFilled(draft);
        form.set({ template, subject: draft.subject, text: draft.text });
      },
    });
  const send = () =>
    form.send(({ subject, text, template }) => acts.send(lead.id, { id, subject, text, template: template || null }).then(show), {
      changes: ["work"],
      but: keys.lead(lead.id),
      words: "It is on its way; the clock is stopped.",
      then: () => {
        setFilled(undefined);
        setId(crypto.randomUUID());
      },
    });
  const why = !email ? "No email address is known." : (filled?.mayNot ?? undefined);
  const missing = filled?.missing.length ? `Not known, so left out: ${filled.missing.join(", ").toLowerCase()}.` : undefined;
  return (
    <FormBox form={form} look="plain" words="Send" onSend={send} why={why} isReady={!!form.values.text.trim()} atEnd>
      <Columns $of="repeat(2, minmax(0, 1fr))">
        <ChoiceBox label="From a template" value={form.values.template || null} options={templates} onChange={choose} placeholder="of your own" isDisabled={filling.busy} />
        <TextBox label="To" value={email ?? "nobody"} isReadOnly />
      </Columns>
      <TextBox label="Subject" {...form.bind("subject")} />
      <Tall>
        <TextBox label="Message" lines={6} {...form.bind("text")} hint={missing} />
      </Tall>
    </FormBox>
  );
}
