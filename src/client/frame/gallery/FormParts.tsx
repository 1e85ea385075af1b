import { useState } from "react";
import { useForm } from "../../common/form";
import { FormBox } from "../../common/FormBox";
import { Button } from "../../parts/Button";
import { DayBox } from "../../parts/DayBox";
import { Overlay } from "../../parts/Dialog";
import { TextBox } from "../../parts/Field";
import { Row } from "../../parts/Layout";
import { tell, tellError } from "../../parts/Toast";
import { Kind, Shown } from "./Shown";

const nothing = { changes: [] } as const;

function useSample(name: string) {
  return useForm({ called: "the sample", name, initial: { subject: "", due: "" } });
}

/** Forms, dialogs and what is told. */
export function FormParts() {
  const plain = useSample("parts:plain");
  const refused = useSample("parts:refused");
  const [isOpen, setOpen] = useState(false);
  const refuse = () => refused.send(async () => Promise.reject(new Error("Somebody else has it.")), nothing);
  return (
    <Kind name="Forms, dialogs and what is told">
      <Shown state="a form: Enter sends, Esc leaves and asks">
        <Sample form={plain} onSend={() => plain.send(async () => undefined, { ...nothing, words: "Kept." })} onLeave={() => undefined} />
      </Shown>
      <Shown state="a form that is refused when it is sent">
        <Sample form={refused} onSend={refuse} />
      </Shown>
      <Shown state="a dialog, and what is told">
        <Row>
          <Button onPress={() => setOpen(true)}>Open a dialog</Button>
          <Button onPress={() => tell("Given to Tor Vik.", async () => undefined)}>Tell it</Button>
          <Button onPress={() => tellError(new Error("The server cannot be reached."))}>Tell an error</Button>
        </Row>
        <Overlay title="A dialog" isOpen={isOpen} onClose={() => setOpen(false)} unsaved={plain}>
          <Sample form={plain} onSend={() => plain.send(async () => undefined, { ...nothing, then: () => setOpen(false) })} />
        </Overlay>
      </Shown>
    </Kind>
  );
}

function Sample({ form, onSend, onLeave }: { form: ReturnType<typeof useSample>; onSend: () => unknown; onLeave?: () => void }) {
  return (
    <FormBox form={form} words="Keep" onSend={onSend} onLeave={onLeave} isReady={!!form.values.subject}>
      <TextBox label="What is to be done" {...form.bind("subject")} />
      <DayBox label="By" {...form.bind("due")} />
    </FormBox>
  );
}
