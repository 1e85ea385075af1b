import type { Schema } from "../api/client";
import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import { DayBox } from "../parts/DayBox";
import { Overlay } from "../parts/Dialog";
import { ChoiceBox, TextBox } from "../parts/Field";
import { staffActs, useShowStaff } from "./queries";

const nobody = "-";

/** An absence: who is away, from when until when, and who stands in. */
export function AwayForm({ staff, onClose }: { staff: Schema["StaffView"]; onClose: () => void }) {
  const show = useShowStaff();
  const form = useForm({ called: "the absence", name: "absence", initial: { person: staff.people[0]?.id ?? "", starts: "", ends: "", standIn: nobody, why: "" } });
  const { person, starts, ends } = form.values;
  const people = staff.people.map((p) => ({ key: p.id, label: p.name }));
  const isTurned = !!starts && !!ends && ends < starts;
  const keep = () => form.send(({ standIn, ...body }) => staffActs.addAbsence({ ...body, standIn: standIn === nobody ? null : standIn }).then(show), { changes: ["staff"], words: "The absence is entered", then: onClose });
  return (
    <Overlay title="An absence" isOpen onClose={onClose} width={460} unsaved={form}>
      <FormBox form={form} words="Keep" onSend={keep} isReady={!!starts && !!ends && !isTurned}>
        <ChoiceBox label="Who" {...form.bind("person")} options={people} />
        <DayBox label="First day away" {...form.bind("starts")} />
        <DayBox label="Last day away" {...form.bind("ends")} error={isTurned ? "before the first" : form.said("ends")} />
        <ChoiceBox label="Who stands in" {...form.bind("standIn")} options={[{ key: nobody, label: "nobody; it goes to the next in turn" }, ...people.filter((p) => p.key !== person)]} />
        <TextBox label="Why" {...form.bind("why")} />
      </FormBox>
    </Overlay>
  );
}
