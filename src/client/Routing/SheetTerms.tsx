import styled from "styled-components";
import { NumberBox } from "../common/NumberBox";
import { ChoiceBox, TextBox } from "../parts/Field";
import { Said } from "../parts/Said";
import { Ticks } from "../parts/Ticks";
import { GuardList } from "./GuardList";
import { saidOfAll, type Finding, type Names, type Sheet } from "./sheet";

const Terms = styled.fieldset`
  border: 0;
  padding: 0;
  margin: 0;
  min-width: 0;
  display: grid;
  gap: 12px;
  font-size: 14px;
`;

type Props = { sheet: Sheet; names: Names; findings: readonly Finding[]; onChange?: (sheet: Sheet) => void };

/** What holds for the whole sheet: who is asked before the rules, when it is asked, and what happens as time runs out. */
export function SheetTerms({ sheet, names, findings, onChange }: Props) {
  const clock = sheet.clock ?? { warnAtPercent: 75, onExpiry: "remind", passAtMost: 2 };
  const set = (part: Partial<Sheet>) => onChange?.({ ...sheet, ...part });
  return (
    <Terms disabled={!onChange}>
      <Said findings={saidOfAll(findings)} />
      <h3>Asked before the rules, in this order</h3>
      <GuardList guards={sheet.guards ?? []} names={names} onChange={onChange && ((guards) => set({ guards }))} />
      <h3>Unless a rule says otherwise</h3>
      <NumberBox label="Minutes of work until an answer" shown="Minutes of work until an answer" least={1} most={43200} whole value={sheet.answerWithinMinutes} onChange={(answerWithinMinutes) => set({ answerWithinMinutes })} />
      <TextBox label="First task" value={sheet.task} onChange={(task) => set({ task })} />
      <h3>When the sheet is asked</h3>
      <Ticks
        label="Moments"
        options={names.moments.filter((m) => m.key !== "arrival").map((m) => ({ key: m.key, label: m.name }))}
        value={(sheet.moments ?? []).filter((m) => m !== "arrival")}
        onChange={(moments) => set({ moments: ["arrival", ...moments] })}
      />
      <h3>As the time to answer runs out</h3>
      <NumberBox label="Warn the owner at percent of the time; 0 for never" shown="Warn the owner at percent of the time; 0 for never" least={0} most={99} whole value={clock.warnAtPercent} onChange={(warnAtPercent) => set({ clock: { ...clock, warnAtPercent } })} />
      <ChoiceBox label="Once it has run out" value={clock.onExpiry} options={names.onExpiry.map((o) => ({ key: o.key, label: o.name }))} onChange={(onExpiry) => set({ clock: { ...clock, onExpiry } })} />
      {clock.onExpiry === "pass_on" && (
        <NumberBox label="Passed on at most so often, then the Desk" shown="Passed on at most so often, then the Desk" least={0} most={20} whole value={clock.passAtMost} onChange={(passAtMost) => set({ clock: { ...clock, passAtMost } })} />
      )}
    </Terms>
  );
}
