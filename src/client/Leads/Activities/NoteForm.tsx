import styled from "styled-components";
import { useForm } from "../../common/form";
import { FormBox } from "../../common/FormBox";
import { TextBox } from "../../parts/Field";
import { unseen } from "../../parts/theme";
import { keys } from "../../common/keys";
import { leadActs, useLeadAct } from "../queries";

const Slim = styled(FormBox)`
  gap: 8px;
  label {
    ${unseen}
  }
`;

/** What is worth remembering, kept in the story. */
export function NoteForm({ lead }: { lead: string }) {
  const { show } = useLeadAct(lead);
  const form = useForm({ called: "the note", name: `${lead}:note`, initial: { text: "" } });
  const send = () => form.send(({ text }) => leadActs.touch(lead, { kind: "note", text, incoming: false }).then(show), { changes: ["story"], but: keys.lead(lead), words: "Noted." });
  return (
    <Slim form={form} look="plain" words="Keep the note" onSend={send} isReady={!!form.values.text.trim()} atEnd>
      <TextBox label="Note" lines={2} {...form.bind("text")} placeholder="What is worth remembering… **strong**, *slanted*, - for a list" />
    </Slim>
  );
}
