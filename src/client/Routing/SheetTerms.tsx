import { ChoiceBox, TextBox } from "../parts/Field";
import { Button } from "../parts/Button";
import { MaybeNumberBox, NumberBox } from "../common/NumberBox";
import { Said } from "../parts/Said";
import { Ticks } from "../parts/Ticks";
import { saidOfAll, type Finding, type Names, type Sheet } from "./sheet";

type Props = { sheet: Sheet; names: Names; findings: readonly Finding[]; onChange?: (sheet: Sheet) => void };
type Guards = NonNullable<Sheet["guards"]>;

/** What holds for the whole sheet: who is asked before the rules, when it is asked, and what happens as time runs out. */
export function SheetTerms({ sheet, names, findings, onChange }: Props) {
  const clock = sheet.clock ?? { warnAtPercent: 75, onExpiry: "remind", passAtMost: 2 };
  const set = (part: Partial<Sheet>) => onChange?.({ ...sheet, ...part });
  return (
    <fieldset disabled={!onChange} style={{ border: 0, padding: 0, margin: 0, display: "grid", gap: 12, fontSize: 14 }}>
      <Said findings={saidOfAll(findings)} />
      <h3 style={{ marginBottom: 0 }}>Asked before the rules, in this order</h3>
      <GuardList guards={sheet.guards ?? []} names={names} onChange={onChange && ((guards) => set({ guards }))} />
      <h3 style={{ marginBottom: 0 }}>Unless a rule says otherwise</h3>
      <NumberBox label="Minutes of work until an answer" shown="Minutes of work until an answer" least={1} most={43200} whole value={sheet.answerWithinMinutes} onChange={(answerWithinMinutes) => set({ answerWithinMinutes })} />
      <TextBox label="First task" value={sheet.task} onChange={(task) => set({ task })} />
      <h3 style={{ marginBottom: 0 }}>When the sheet is asked</h3>
      <Ticks
        label="Moments"
        options={names.moments.filter((m) => m.key !== "arrival").map((m) => ({ key: m.key, label: m.name }))}
        value={(sheet.moments ?? []).filter((m) => m !== "arrival")}
        onChange={(moments) => set({ moments: ["arrival", ...moments] })}
      />
      <h3 style={{ marginBottom: 0 }}>As the time to answer runs out</h3>
      <NumberBox label="Warn the owner at percent of the time; 0 for never" shown="Warn the owner at percent of the time; 0 for never" least={0} most={99} whole value={clock.warnAtPercent} onChange={(warnAtPercent) => set({ clock: { ...clock, warnAtPercent } })} />
      <ChoiceBox label="Once it has run out" value={clock.onExpiry} options={names.onExpiry.map((o) => ({ key: o.key, label: o.name }))} onChange={(onExpiry) => set({ clock: { ...clock, onExpiry } })} />
      {clock.onExpiry === "pass_on" && (
        <NumberBox label="Passed on at most so often, then the Desk" shown="Passed on at most so often, then the Desk" least={0} most={20} whole value={clock.passAtMost} onChange={(passAtMost) => set({ clock: { ...clock, passAtMost } })} />
      )}
    </fieldset>
  );
}

function GuardList({ guards, names, onChange }: { guards: Guards; names: Names; onChange?: (guards: Guards) => void }) {
  // Those a file left out stand at the end, switched off.
  const all = [...guards, ...names.guards.filter((n) => guards.every((g) => g.kind !== n.key)).map((n) => ({ kind: n.key, on: false, awayDays: 0 }))];
  const set = (at: number, guard: Guards[number]) => onChange?.(all.map((g, i) => (i === at ? guard : g)));
  return (
    <ol style={{ listStyle: "none", padding: 0, margin: 0, display: "grid", gap: 10 }}>
      {all.map((guard, at) => {
        const name = names.guards.find((n) => n.key === guard.kind)?.name ?? guard.kind;
        return (
          <li key={guard.kind}>
            <label style={{ display: "flex", gap: 6, alignItems: "center" }}>
              <input type="checkbox" checked={guard.on ?? true} onChange={(e) => set(at, { ...guard, on: e.target.checked })} />
              {name}
            </label>
            {(guard.on ?? true) && (
              <div style={{ display: "grid", gridTemplateColumns: "1fr auto", gap: 8, alignItems: "end", paddingLeft: 22 }}>
                <MaybeNumberBox
                  label={`${name}: days away at most`}
                  shown="passed over when away for over days; empty for never"
                  least={0}
                  most={365}
                  whole
                  value={guard.awayDays ?? undefined}
                  onChange={(awayDays) => set(at, { ...guard, awayDays: awayDays ?? null })}
                />
                {at > 0 && onChange && (
                  <Button look="quiet" aria-label={`${name}: ask earlier`} onPress={() => onChange([...all.slice(0, at - 1), guard, all[at - 1]!, ...all.slice(at + 1)])}>
                    earlier
                  </Button>
                )}
              </div>
            )}
          </li>
        );
      })}
    </ol>
  );
}
