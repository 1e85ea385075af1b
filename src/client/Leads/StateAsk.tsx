import styled from "styled-components";
import { useFields } from "../common/fields";
import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import { PickListChoice } from "../common/PickList";
import { useSession } from "../common/session";
import { Button } from "../parts/Button";
import { DayBox } from "../parts/DayBox";
import { inDays } from "../parts/days";
import { day } from "../parts/format";
import { Columns } from "../parts/Layout";
import { Hint } from "../parts/Words";
import { morningOf } from "../parts/zones";
import type { Sheet, StateChange } from "./queries";

const Wide = styled.div`
  grid-column: 1 / -1;
  max-width: 560px;
`;

const usual = 30;

type Props = { state: string; onGive: (to: StateChange) => void; onLeave: () => void };

/** What a state needs to be said beside it: until when a lead is on hold, why it is disqualified. */
export function StateAsk({ state, onGive, onLeave }: Props) {
  const { timeZone } = useSession();
  const form = useForm({ called: "the state", initial: { wakes: inDays(usual, timeZone), reason: "", competitor: "" }, asks: false });
  const { wakes, reason, competitor } = form.values;
  const hold = state === "on_hold";
  const give = () => onGive(hold ? { state, wakeAt: morningOf(wakes, timeZone) } : { state, reason, lostTo: competitor || null });
  return (
    <Wide>
      <FormBox form={form} words={hold ? "Put on hold" : "Disqualify"} onSend={give} onLeave={onLeave} isReady={hold ? !!wakes : !!reason}>
        <Columns $of="minmax(0, 1fr) minmax(0, 1fr)">
          {hold ? <DayBox label="Wakes on" {...form.bind("wakes")} autoFocus /> : <PickListChoice list="state_reason" label="Why" {...form.bind("reason")} value={reason || null} />}
          {!hold && <PickListChoice list="competitors" label="Who got it" none="nobody we know of" {...form.bind("competitor")} />}
        </Columns>
      </FormBox>
    </Wide>
  );
}

/** The same as words, once it is so; a press asks again. */
export function StateWords({ lead, onChange }: { lead: Sheet; onChange?: (state: string) => void }) {
  const reasons = useFields().data?.find((f) => f.key === "state_reason")?.choices ?? [];
  const why = reasons.find((r) => r.key === lead.stateReason)?.label ?? lead.stateReason;
  const words = lead.state === "on_hold" && lead.wakeAt ? `Wakes on ${day(lead.wakeAt)}.` : lead.state === "disqualified" && why ? `${why}${lead.qualifying.lostTo ? `, ${lead.qualifying.lostTo} got it` : ""}.` : null;
  if (!words) return null;
  return (
    <Wide as={Hint}>
      {words}{" "}
      {onChange && (
        <Button look="inline" onPress={() => onChange(lead.state)}>
          Change
        </Button>
      )}
    </Wide>
  );
}
