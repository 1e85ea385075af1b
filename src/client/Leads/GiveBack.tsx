import { useState } from "react";
import { Form } from "react-aria-components";
import { api, must } from "../api/client";
import { Button } from "../parts/Button";
import { TextBox } from "../parts/Field";
import { tell, tellError } from "../parts/Toast";
import { useSession } from "../Setup/session";
import { useLeadAct, type Sheet } from "./queries";

/** Giving one's lead back with a reason, or taking one that nobody has. */
export function GiveBack({ lead, mayWrite }: { lead: Sheet; mayWrite: boolean }) {
  const session = useSession();
  const act = useLeadAct(lead.id);
  const [reason, setReason] = useState<string>();
  const works = session.role === "rep" || session.role === "qualifier";
  const at = { params: { path: { id: lead.id } }, headers: { "If-Match": `"${lead.version}"` } };
  if (!lead.ownerId && works && lead.state !== "handed_over")
    return (
      <Button isDisabled={act.isPending} onPress={() => act.mutate(() => must(api.POST("/api/leads/{id}/take", at)), { onSuccess: () => tell("It is yours."), onError: tellError })}>
        Take it
      </Button>
    );
  if (!lead.ownerId || !mayWrite) return null;
  if (reason === undefined)
    return (
      <Button look="quiet" style={{ padding: 0 }} onPress={() => setReason("")}>
        Give it back
      </Button>
    );
  return (
    <Form
      style={{ display: "flex", gap: 8, alignItems: "end", gridColumn: "1 / -1" }}
      onSubmit={(e) => {
        e.preventDefault();
        act.mutate(() => must(api.POST("/api/leads/{id}/give-back", { ...at, body: { reason } })), {
          onSuccess: (now) => (setReason(undefined), tell(now.ownerName ? `Given back; ${now.ownerName} has it now.` : "Given back; it waits on the Desk.")),
          onError: tellError,
        });
      }}
    >
      <div style={{ flex: 1 }}>
        <TextBox label="Why do you give it back" value={reason} onChange={setReason} autoFocus />
      </div>
      <Button look="main" type="submit" isDisabled={act.isPending || !reason.trim()}>
        Give it back
      </Button>
      <Button onPress={() => setReason(undefined)}>Keep it</Button>
    </Form>
  );
}
