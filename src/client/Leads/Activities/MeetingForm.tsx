import { useForm } from "../../common/form";
import { FormBox } from "../../common/FormBox";
import { usePeople } from "../../common/people";
import { useSession } from "../../common/session";
import { MomentBox } from "../../parts/DayBox";
import { ChoiceBox, TextBox } from "../../parts/Field";
import { Columns } from "../../parts/Layout";
import { Ticks } from "../../parts/Ticks";
import { fromLocal, inDaysAt, toLocal, zoneHint } from "../../parts/zones";
import { useResources, type Meeting, type MeetingWrite } from "./queries";

const words = (minutes: number) => (minutes < 60 ? `${minutes} minutes` : minutes % 60 ? `${Math.floor(minutes / 60)} h ${minutes % 60}` : `${minutes / 60} h`);
const lengths = [15, 30, 45, 60, 90, 120, 240, 480].map((minutes) => ({ key: String(minutes), label: words(minutes) }));
const halves = "repeat(2, minmax(0, 1fr))";
const minuteMs = 60_000;

const asForm = (me: { id: string; timeZone: string }, meeting?: Meeting) => ({
  subject: meeting?.subject ?? "",
  startsAt: meeting ? toLocal(new Date(meeting.startsAt), me.timeZone) : inDaysAt(3, me.timeZone, 10),
  minutes: meeting ? String((Date.parse(meeting.endsAt) - Date.parse(meeting.startsAt)) / minuteMs) : "60",
  place: meeting?.place ?? "",
  goal: meeting?.goal ?? "",
  guests: meeting?.guests.join(", ") ?? "",
  people: [...(meeting?.people ?? [me.id])],
  resources: [...(meeting?.resources ?? [])],
});

function asBody(values: ReturnType<typeof asForm>, zone: string): MeetingWrite {
  const { startsAt, minutes, guests, ...rest } = values;
  const from = fromLocal(startsAt, zone);
  const until = new Date(from.getTime() + Number(minutes) * minuteMs);
  return { ...rest, startsAt: from.toISOString(), endsAt: until.toISOString(), guests: guests.split(",").map((g) => g.trim()).filter(Boolean) };
}

type Props = { meeting?: Meeting; record?: string; onKeep: (body: MeetingWrite) => Promise<unknown>; onDone?: () => void; onLeave?: () => void };

/** When, where, who from both sides, to what end, and what is taken along. */
export function MeetingForm({ meeting, record = "", onKeep, onDone, onLeave }: Props) {
  const me = useSession();
  const others = (usePeople().data ?? []).filter((p) => p.id !== me.id).map((p) => ({ key: p.id, label: p.name }));
  const resources = (useResources().data ?? []).filter((r) => !r.retired || meeting?.resources.includes(r.key)).map((r) => ({ key: r.key, label: r.name }));
  const form = useForm({ called: meeting ? "the change of the meeting" : "the meeting", name: `${meeting?.id ?? record}:meeting`, initial: asForm(me, meeting) });
  const { minutes } = form.values;
  const send = () => form.send((values) => onKeep(asBody(values, me.timeZone)), { changes: ["work"], words: meeting ? "The meeting is changed." : "The meeting is planned.", then: onDone });
  return (
    <FormBox form={form} look="plain" words={meeting ? "Keep" : "Plan the meeting"} onSend={send} onLeave={onLeave} isReady={!!form.values.startsAt} atEnd>
      <TextBox label="What the meeting is" placeholder="First visit" {...form.bind("subject")} autoFocus={!!meeting} />
      <Columns $of={halves}>
        <MomentBox label="Begins" {...form.bind("startsAt")} error={form.said("startsAt") ?? form.said("endsAt")} hint={zoneHint(me.timeZone)} />
        <ChoiceBox label="How long" {...form.bind("minutes")} options={lengths.some((l) => l.key === minutes) ? lengths : [...lengths, { key: minutes, label: `${minutes} minutes` }]} />
        <TextBox label="Where" {...form.bind("place")} />
        <TextBox label="From their side" placeholder="names, with commas between" {...form.bind("guests")} />
      </Columns>
      <TextBox label="What it is for" {...form.bind("goal")} />
      <Ticks label="From our side" options={[{ key: me.id, label: "you" }, ...others]} {...form.bind("people")} />
      {resources.length > 0 && <Ticks label="Taken along" options={resources} {...form.bind("resources")} />}
    </FormBox>
  );
}
