import { useState } from "react";
import { useSending } from "../../parts/acting";
import { Button } from "../../parts/Button";
import { MomentBox } from "../../parts/DayBox";
import { ChoiceBox, TextBox } from "../../parts/Field";
import { Ticks } from "../../parts/Ticks";
import { useTyped } from "../../parts/useTyped";
import { useSession } from "../../Setup/session";
import { usePeople } from "../queries";
import { fromLocal, inWorkingDays, toLocal, zoneHint, useResources, type Meeting, type MeetingWrite } from "./queries";
import { Grid } from "./TaskForm";

const lengths = [15, 30, 45, 60, 90, 120, 240, 480].map((minutes) => ({ key: String(minutes), label: minutes < 60 ? `${minutes} minutes` : minutes % 60 ? `${Math.floor(minutes / 60)} h ${minutes % 60}` : `${minutes / 60} h` }));

type Props = { meeting?: Meeting; record?: string; onKeep: (body: MeetingWrite) => Promise<unknown>; onLeave?: () => void };

/** When, where, who from both sides, to what end, and what is taken along. */
export function MeetingForm({ meeting, record = "", onKeep, onLeave }: Props) {
  const me = useSession();
  const others = (usePeople().data ?? []).filter((p) => p.id !== me.id).map((p) => ({ key: p.id, label: p.name }));
  const resources = (useResources().data ?? []).filter((r) => !r.retired || meeting?.resources.includes(r.key)).map((r) => ({ key: r.key, label: r.name }));
  const [subject, setSubject, forgetSubject] = useTyped(`${meeting?.id ?? record}:meeting`, meeting?.subject ?? "");
  const [starts, setStarts] = useState(meeting ? toLocal(new Date(meeting.startsAt), me.timeZone) : inWorkingDays(3, me.timeZone, 10));
  const [minutes, setMinutes] = useState(meeting ? String((Date.parse(meeting.endsAt) - Date.parse(meeting.startsAt)) / 60_000) : "60");
  const [place, setPlace] = useState(meeting?.place ?? "");
  const [goal, setGoal, forgetGoal] = useTyped(`${meeting?.id ?? record}:meeting-goal`, meeting?.goal ?? "");
  const [guests, setGuests] = useState(meeting?.guests.join(", ") ?? "");
  const [people, setPeople] = useState<string[]>(meeting?.people ?? [me.id]);
  const [taken, setTaken] = useState<string[]>(meeting?.resources ?? []);
  const { busy, send, said, whole } = useSending();
  const keep = () => {
    const from = fromLocal(starts, me.timeZone);
    const until = new Date(from.getTime() + Number(minutes) * 60_000);
    return send(async () => {
      await onKeep({ subject, startsAt: from.toISOString(), endsAt: until.toISOString(), place, goal, people, resources: taken, guests: guests.split(",").map((g) => g.trim()).filter(Boolean) });
      forgetSubject();
      forgetGoal();
    });
  };
  return (
    <Grid as="form" onSubmit={(e: React.FormEvent) => (e.preventDefault(), void keep())}>
      <div className="wide">
        <TextBox label="What the meeting is" placeholder="Site survey at the outer pens" value={subject} onChange={setSubject} error={said("subject")} />
      </div>
      <MomentBox label="Begins" value={starts} onChange={setStarts} hint={zoneHint(me.timeZone)} error={said("endsAt")} />
      <ChoiceBox label="How long" value={minutes} options={lengths.some((l) => l.key === minutes) ? lengths : [...lengths, { key: minutes, label: `${minutes} minutes` }]} onChange={setMinutes} />
      <TextBox label="Where" value={place} onChange={setPlace} />
      <TextBox label="From their side" placeholder="names, with commas between" value={guests} onChange={setGuests} />
      <div className="wide">
        <TextBox label="What it is for" value={goal} onChange={setGoal} error={said("goal")} />
      </div>
      <Ticks className="wide" label="From our side" options={[{ key: me.id, label: "you" }, ...others]} value={people} onChange={setPeople} />
      {resources.length > 0 && <Ticks className="wide" label="Taken along" options={resources} value={taken} onChange={setTaken} />}
      <div className="row">
        {whole && (
          <span role="alert" style={{ color: "var(--bad)", fontSize: 13, marginRight: "auto" }}>
            {whole}
          </span>
        )}
        {onLeave && (
          <Button look="quiet" onPress={onLeave}>
            Leave it
          </Button>
        )}
        <Button type="submit" isDisabled={busy || !starts}>
          {meeting ? "Keep" : "Plan the meeting"}
        </Button>
      </div>
    </Grid>
  );
}
