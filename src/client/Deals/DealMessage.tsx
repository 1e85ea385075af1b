import { useRef } from "react";
import { api, must, type Schema } from "../api/client";
import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import { Overlay } from "../parts/Dialog";
import { TextBox } from "../parts/Field";
import { Ticks } from "../parts/Ticks";
import { Hint } from "../parts/Words";

const begun = "Dear {{ first_name }} {{ last_name }},\n\n";

/** A message to the people on a deal who have certain parts in it; to everybody where none is ticked. */
export function DealMessage({ sheet, onLeave }: { sheet: Schema["DealSheet"]; onLeave: () => void }) {
  const parts = [...new Map(sheet.people.filter((p) => p.role).map((p) => [p.role, p.roleName ?? p.role]))].map(([key, label]) => ({ key, label }));
  const form = useForm({ called: "the message", name: `${sheet.deal.id}:message`, initial: { roles: [] as string[], subject: "", text: begun } });
  const { roles } = form.values;
  // The same message sent twice is one message.
  const id = useRef(crypto.randomUUID());
  const to = sheet.people.filter((p) => roles.length === 0 || roles.includes(p.role));
  const send = () =>
    form.send((values) => must(api.POST("/api/deals/{id}/messages", { params: { path: { id: sheet.deal.id } }, body: { id: id.current, ...values, purpose: null } })), {
      changes: ["deal"],
      words: (sent) => `${sent.to.length ? `Sent to ${sent.to.join(", ")}.` : "Nothing was sent."}${sent.left.map((l) => ` Not to ${l.name}: ${l.why}`).join("")}`,
      then: onLeave,
    });
  return (
    <Overlay title={`Write to people of ${sheet.deal.name}`} isOpen onClose={onLeave} unsaved={form}>
      <FormBox form={form} words="Send" onSend={send} isReady={to.length > 0}>
        {parts.length > 0 && <Ticks label="To those who are" options={parts} {...form.bind("roles")} />}
        <Hint>{to.length ? `To ${to.map((p) => p.name).join(", ")}.` : "To nobody."}</Hint>
        <TextBox label="Subject" {...form.bind("subject")} autoFocus />
        <TextBox lines={7} label="Message" {...form.bind("text")} hint="{{ first_name }} and other facts of each are filled in." />
      </FormBox>
    </Overlay>
  );
}
