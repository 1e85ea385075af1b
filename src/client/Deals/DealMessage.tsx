import { useRef, useState } from "react";
import { api, must, type Schema } from "../api/client";
import { useSending } from "../common/acting";
import { Button } from "../parts/Button";
import { Overlay } from "../parts/Dialog";
import { TextBox } from "../parts/Field";
import { Ticks } from "../parts/Ticks";
import { tell } from "../parts/Toast";
import { useRefresh } from "../common/session";

/** A message to the people on a deal who have certain parts in it; to everybody where none is ticked. */
export function DealMessage({ sheet, onLeave }: { sheet: Schema["DealSheet"]; onLeave: () => void }) {
  const parts = [...new Map(sheet.people.filter((p) => p.role).map((p) => [p.role, p.roleName ?? p.role]))].map(([key, label]) => ({ key, label }));
  const [roles, setRoles] = useState<string[]>([]);
  const [subject, setSubject] = useState("");
  const [text, setText] = useState("Dear {{ first_name }} {{ last_name }},\n\n");
  const { busy, send, said, whole } = useSending();
  const refresh = useRefresh();
  // The same press twice is the same message.
  const id = useRef(crypto.randomUUID());
  const to = sheet.people.filter((p) => roles.length === 0 || roles.includes(p.role));
  const go = () =>
    send(async () => {
      const sent = await must(api.POST("/api/deals/{id}/messages", { params: { path: { id: sheet.deal.id } }, body: { id: id.current, roles, subject, text, purpose: null } }));
      await refresh();
      tell(`${sent.to.length ? `Sent to ${sent.to.join(", ")}.` : "Nothing was sent."}${sent.left.map((l) => ` Not to ${l.name}: ${l.why}`).join("")}`);
      onLeave();
    });
  return (
    <Overlay title={`Write to people of ${sheet.deal.name}`} isOpen onClose={onLeave}>
      <form
        style={{ display: "grid", gap: 12 }}
        onSubmit={(e) => {
          e.preventDefault();
          void go();
        }}
      >
        {parts.length > 0 && <Ticks label="To those who are" options={parts} value={roles} onChange={setRoles} error={said("roles")} />}
        <p style={{ fontSize: 13, color: "var(--soft)" }}>{to.length ? `To ${to.map((p) => p.name).join(", ")}.` : "To nobody."}</p>
        <TextBox label="Subject" value={subject} onChange={setSubject} error={said("subject")} />
        <TextBox lines={7} label="Message" value={text} onChange={setText} error={said("text")} hint="{{ first_name }} and other facts of each are filled in." />
        {whole && (
          <p role="alert" style={{ color: "var(--bad)", fontSize: 13 }}>
            {whole}
          </p>
        )}
        <div>
          <Button type="submit" look="main" isDisabled={busy || !to.length}>
            Send
          </Button>
          <Button look="quiet" onPress={onLeave}>
            Cancel
          </Button>
        </div>
      </form>
    </Overlay>
  );
}
