import { useState } from "react";
import styled from "styled-components";
import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import { useMay } from "../common/session";
import { Button } from "../parts/Button";
import { TextBox } from "../parts/Field";
import { leadActs, useLeadAct, type Sheet } from "./queries";

const Wide = styled.div`
  grid-column: 1 / -1;
`;

/** Giving one's lead back with a reason, or taking one that nobody has. */
export function GiveBack({ lead, mayWrite }: { lead: Sheet; mayWrite: boolean }) {
  const mayTake = useMay("takeLeads");
  const act = useLeadAct(lead.id);
  const [open, setOpen] = useState(false);
  if (!lead.ownerId && mayTake && !lead.became)
    return (
      <Button isPending={act.busy} onPress={() => void act.run(() => leadActs.take(lead), { words: "It is yours." })}>
        Take it
      </Button>
    );
  if (!lead.ownerId || !mayWrite) return null;
  if (!open)
    return (
      <Button look="inline" onPress={() => setOpen(true)}>
        Give it back
      </Button>
    );
  return (
    <Wide>
      <Reason lead={lead} onLeave={() => setOpen(false)} />
    </Wide>
  );
}

function Reason({ lead, onLeave }: { lead: Sheet; onLeave: () => void }) {
  const { show } = useLeadAct(lead.id);
  const form = useForm({ called: "why you give the lead back", name: `${lead.id}:give-back`, initial: { reason: "" } });
  const send = () =>
    form.send(({ reason }) => leadActs.giveBack(lead, reason).then(show), {
      changes: ["lead"],
      words: (now) => (now.ownerName ? `Given back; ${now.ownerName} has it now.` : "Given back; it waits on the Desk."),
      then: onLeave,
    });
  return (
    <FormBox form={form} words="Give it back" onSend={send} onLeave={onLeave} leaveWords="Keep it" isReady={!!form.values.reason.trim()}>
      <TextBox label="Why do you give it back" {...form.bind("reason")} autoFocus />
    </FormBox>
  );
}
