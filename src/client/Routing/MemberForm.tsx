import { useState } from "react";
import { api, must, type Schema } from "../api/client";
import { Button } from "../parts/Button";
import { Overlay } from "../parts/Dialog";
import { ChoiceBox, TextBox } from "../parts/Field";
import { MaybeNumberBox, NumberBox } from "../common/NumberBox";
import { count } from "../parts/format";
import { tell } from "../parts/Toast";
import { Ticks } from "../parts/Ticks";
import { useStaffChange } from "./queries";

const days = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"].map((label, i) => ({ key: String(1 << i), label }));

type Props = { member: Schema["StaffMember"]; staff: Schema["StaffView"]; onClose: () => void; onHandOn: () => void };

/** When somebody works, how much they take, and what of. */
export function MemberForm({ member, staff, onClose, onHandOn }: Props) {
  const [form, setForm] = useState(member);
  const [serves, setServes] = useState(member.serves.join(", "));
  const change = useStaffChange();
  const set = (part: Partial<typeof form>) => setForm({ ...form, ...part });
  const keep = () => {
    const { timeZone, worksFrom, worksTo, worksDays, holidays, capacity, capacityToday, languages, skills, here } = form;
    const places = serves.split(/[,\s]+/).map((s) => s.trim().toUpperCase()).filter(Boolean);
    change.mutate(
      () =>
        must(
          api.PUT("/api/staff/people/{id}", {
            params: { path: { id: member.id } },
            body: { timeZone, worksFrom, worksTo, worksDays, holidays, capacity, capacityToday, languages, skills, serves: places, here },
          }),
        ),
      { onSuccess: () => (tell(`${member.name} is changed`), onClose()) },
    );
  };
  return (
    <Overlay title={member.name} isOpen onClose={onClose} width={600}>
      <form
        style={{ display: "grid", gap: 12 }}
        onSubmit={(e) => {
          e.preventDefault();
          keep();
        }}
      >
        <div style={{ display: "grid", gridTemplateColumns: "1.4fr 1fr 1fr", gap: 12 }}>
          <TextBox label="Time zone" value={form.timeZone} onChange={(timeZone) => set({ timeZone })} />
          <TextBox label="Works from" value={form.worksFrom.slice(0, 5)} onChange={(v) => set({ worksFrom: v })} />
          <TextBox label="to" value={form.worksTo.slice(0, 5)} onChange={(v) => set({ worksTo: v })} />
        </div>
        <Ticks label="On" options={days} value={days.filter((d) => (form.worksDays & Number(d.key)) !== 0).map((d) => d.key)} onChange={(keys) => set({ worksDays: keys.reduce((sum, k) => sum + Number(k), 0) })} />
        <div style={{ display: "grid", gridTemplateColumns: "1.4fr 1fr 1fr", gap: 12 }}>
          <ChoiceBox
            label="Holidays"
            value={form.holidays ?? "-"}
            options={[{ key: "-", label: "none" }, ...staff.calendars.map((c) => ({ key: c.key, label: c.name }))]}
            onChange={(key) => set({ holidays: key === "-" ? null : key })}
          />
          <NumberBox label="Open leads at most" shown="Open leads at most" least={1} most={10000} whole value={form.capacity} onChange={(capacity) => set({ capacity })} />
          <MaybeNumberBox label="New leads a day at most" shown="New ones a day at most" least={1} most={1000} whole placeholder="any number" value={form.capacityToday ?? undefined} onChange={(v) => set({ capacityToday: v ?? null })} />
        </div>
        <Ticks label="Speaks" options={staff.languages.map((l) => ({ key: l.key, label: l.name }))} value={[...form.languages]} onChange={(languages) => set({ languages })} />
        <Ticks label="Skills" options={staff.skills.map((l) => ({ key: l.key, label: l.name }))} value={[...form.skills]} onChange={(skills) => set({ skills })} />
        <TextBox label="Serves: countries and regions by code, such as NO, US-WA" value={serves} onChange={setServes} />
        <Ticks label="Works here" options={[{ key: "here", label: "yes; without it they get no leads" }]} value={form.here ? ["here"] : []} onChange={(keys) => set({ here: keys.length > 0 })} />
        {!form.here && member.here && member.open > 0 && <p style={{ fontSize: 14 }}>Their leads, {count(member.open, "open one")} among them, will wait on the Desk for a new owner. Hand them on first if the rules are to say who gets them.</p>}
        {change.error && <p style={{ color: "var(--bad)", fontSize: 14 }}>{change.error.message}</p>}
        <p style={{ display: "flex", gap: 10 }}>
          <Button look="main" type="submit" isDisabled={change.isPending}>
            Keep
          </Button>
          <Button onPress={onClose}>Leave it</Button>
          {member.open > 0 && (
            <Button look="quiet" style={{ marginLeft: "auto" }} onPress={onHandOn}>
              Hand on their leads
            </Button>
          )}
        </p>
      </form>
    </Overlay>
  );
}
