import type { Schema } from "../api/client";
import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import { WorkDays } from "../common/WorkDays";
import { MaybeNumberBox, NumberBox } from "../common/NumberBox";
import { Button } from "../parts/Button";
import { TimeBox } from "../parts/TimeBox";
import { Overlay } from "../parts/Dialog";
import { ChoiceBox, TextBox } from "../parts/Field";
import { Block, Columns } from "../parts/Layout";
import { Ticks } from "../parts/Ticks";
import { ZoneBox } from "../parts/ZoneBox";
import { staffActs, useShowStaff } from "./queries";

const three = "1.4fr 1fr 1fr";
const none = "-";

type Staff = Schema["StaffView"];
type Member = Schema["StaffMember"];
type Props = { member: Member; staff: Staff; onClose: () => void; onHandOn: () => void };

const asForm = (m: Member) => ({
  timeZone: m.timeZone,
  worksFrom: m.worksFrom.slice(0, 5),
  worksTo: m.worksTo.slice(0, 5),
  worksDays: m.worksDays,
  holidays: m.holidays ?? none,
  capacity: m.capacity,
  capacityToday: m.capacityToday ?? null,
  languages: [...m.languages],
  skills: [...m.skills],
  serves: m.serves.join(", "),
});

const useMemberForm = (member: Member) => useForm({ called: `the change of ${member.name}`, name: `member:${member.id}`, initial: asForm(member) });

type Form = ReturnType<typeof useMemberForm>;

/** When somebody works, how much they take, and what of. */
export function MemberForm({ member, staff, onClose, onHandOn }: Props) {
  const show = useShowStaff();
  const form = useMemberForm(member);
  const keep = () =>
    form.send(
      ({ serves, holidays, ...body }) =>
        staffActs.person(member.id, { ...body, holidays: holidays === none ? null : holidays, serves: serves.split(/[,\s]+/).map((s) => s.trim().toUpperCase()).filter(Boolean) }).then(show),
      { changes: ["staff"], words: `${member.name} is changed`, then: onClose },
    );
  const handOn = member.open > 0 && (
    <Block $right>
      <Button look="quiet" onPress={onHandOn}>
        Hand on their leads
      </Button>
    </Block>
  );
  return (
    <Overlay title={member.name} isOpen onClose={onClose} width={600} unsaved={form}>
      <FormBox form={form} words="Keep" onSend={keep} isReady={!!form.values.timeZone && !!form.values.worksFrom && !!form.values.worksTo} beside={handOn}>
        <Hours form={form} staff={staff} />
        <Ticks label="Speaks" options={staff.languages.map((l) => ({ key: l.key, label: l.name }))} {...form.bind("languages")} />
        <Ticks label="Skills" options={staff.skills.map((l) => ({ key: l.key, label: l.name }))} {...form.bind("skills")} />
        <TextBox label="Serves: countries and regions by code, such as NO, US-WA" {...form.bind("serves")} />
      </FormBox>
    </Overlay>
  );
}

function Hours({ form, staff }: { form: Form; staff: Staff }) {
  const { worksDays, capacity, capacityToday } = form.values;
  return (
    <>
      <Columns $of={three} $align="start">
        <ZoneBox label="Time zone" {...form.bind("timeZone")} />
        <TimeBox label="Works from" {...form.bind("worksFrom")} />
        <TimeBox label="to" {...form.bind("worksTo")} />
      </Columns>
      <WorkDays value={worksDays} onChange={(bits) => form.set({ worksDays: bits })} />
      <Columns $of={three} $align="start">
        <ChoiceBox label="Holidays" {...form.bind("holidays")} options={[{ key: none, label: "none" }, ...staff.calendars.map((c) => ({ key: c.key, label: c.name }))]} />
        <NumberBox label="Open leads at most" shown="Open leads at most" least={1} most={10000} whole value={capacity} onChange={(value) => form.set({ capacity: value })} />
        <MaybeNumberBox label="New leads a day at most" shown="New ones a day at most" least={1} most={1000} whole placeholder="any number" value={capacityToday ?? undefined} onChange={(v) => form.set({ capacityToday: v ?? null })} />
      </Columns>
    </>
  );
}
