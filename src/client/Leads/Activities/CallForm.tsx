import { useForm } from "../../common/form";
import { FormBox } from "../../common/FormBox";
import { ChoiceBox, TextBox } from "../../parts/Field";
import { Columns } from "../../parts/Layout";
import { keys } from "../../common/keys";
import { leadActs, useLeadAct } from "../queries";

const outcomes = [
  { key: "reached", label: "reached" },
  { key: "not_reached", label: "not reached" },
  { key: "left_message", label: "left a message" },
  { key: "call_back", label: "will call back" },
  { key: "wrong_number", label: "wrong number" },
];

const ways = [
  { key: "out", label: "we called" },
  { key: "in", label: "they called" },
];

/** Who called, how it ended, how long, what was said. */
export function CallForm({ lead }: { lead: string }) {
  const { show } = useLeadAct(lead);
  const form = useForm({ called: "the call", name: `${lead}:call`, initial: { text: "", outcome: "reached", way: "out", minutes: "" } });
  const send = () =>
    form.send(({ text, outcome, way, minutes }) => leadActs.touch(lead, { kind: "call", text, outcome, incoming: way === "in", minutes: minutes ? Number(minutes) : null }).then(show), {
      changes: ["work"],
      but: keys.lead(lead),
      words: "The call is recorded; the clock is stopped.",
    });
  const minutes = form.bind("minutes");
  return (
    <FormBox form={form} look="plain" words="Record the call" onSend={send} atEnd>
      <Columns $of="minmax(0, 1.4fr) minmax(0, 1fr) minmax(0, 0.7fr)" $align="end">
        <ChoiceBox label="How it ended" {...form.bind("outcome")} options={outcomes} />
        <ChoiceBox label="Who called" {...form.bind("way")} options={ways} />
        <TextBox label="Minutes" inputMode="numeric" {...minutes} onChange={(text) => minutes.onChange(text.replace(/\D/g, "").slice(0, 3))} />
      </Columns>
      <TextBox label="What was said" lines={2} {...form.bind("text")} />
    </FormBox>
  );
}
