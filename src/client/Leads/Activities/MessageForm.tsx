import { useState } from "react";
import { useSending } from "../../parts/acting";
import { Button } from "../../parts/Button";
import { ChoiceBox, TextBox } from "../../parts/Field";
import { useTyped } from "../../parts/useTyped";
import type { Sheet } from "../queries";
import { acts, useTemplates, type Draft } from "./queries";
import { Grid } from "./TaskForm";

/** A message, from a template or of one's own: looked over before it goes, and only to whom we may write. */
export function MessageForm({ lead, onSent }: { lead: Sheet; onSent: (sheet: Sheet) => void }) {
  const templates = useTemplates().data ?? [];
  const [template, setTemplate] = useState<string | null>(null);
  const [draft, setDraft] = useState<Draft>();
  const [subject, setSubject, forgetSubject] = useTyped(`${lead.id}:message-subject`, "");
  const [text, setText, forgetText] = useTyped(`${lead.id}:message`, "");
  const { busy, send: run, said, whole } = useSending();
  // The same press twice is the same message.
  const [id, setId] = useState(() => crypto.randomUUID());
  const email = lead.facts.find((f) => f.key === "email")?.value;
  const choose = (key: string) =>
    void run(async () => {
      const filled = await acts.draft(lead.id, key);
      setTemplate(key);
      setDraft(filled);
      setSubject(filled.subject);
      setText(filled.text);
    });
  const send = () =>
    void run(async () => {
      const sheet = await acts.send(lead.id, { id, subject, text, template });
      forgetSubject();
      forgetText();
      setTemplate(null);
      setDraft(undefined);
      setId(crypto.randomUUID());
      onSent(sheet);
    });
  const why = !email ? "No email address is known." : draft?.mayNot;
  return (
    <Grid as="form" onSubmit={(e: React.FormEvent) => (e.preventDefault(), send())}>
      <ChoiceBox label="From a template" value={template} options={templates} onChange={choose} placeholder="of your own" />
      <TextBox label="To" value={email ?? "nobody"} isReadOnly />
      <div className="wide">
        <TextBox label="Subject" value={subject} onChange={setSubject} error={said("subject")} />
      </div>
      <div className="wide tall">
        <TextBox label="Message" lines={7} value={text} onChange={setText} error={said("text")} hint={draft && draft.missing.length > 0 ? `Not known, so left out: ${draft.missing.join(", ").toLowerCase()}.` : undefined} />
      </div>
      <div className="row">
        {(why || whole) && (
          <span role="alert" style={{ color: "var(--bad)", fontSize: 13, marginRight: "auto" }}>
            {why ?? whole}
          </span>
        )}
        <Button type="submit" isDisabled={busy || !!why || !text.trim()}>
          Send
        </Button>
      </div>
    </Grid>
  );
}
