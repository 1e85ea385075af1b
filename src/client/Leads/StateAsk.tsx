import { useState } from "react";
import styled from "styled-components";
import { Button } from "../parts/Button";
import { DayBox } from "../parts/DayBox";
import { inDays } from "../parts/days";
import { day } from "../parts/format";
import { useSession } from "../Setup/session";
import { morningOf } from "./Activities/queries";
import { PickListChoice, useUnkept } from "../parts/PickList";
import { small } from "../parts/theme";
import { type Sheet, type StateChange } from "./queries";
import { useFields } from "../Conditions/useFields";

const Row = styled.form`
  grid-column: 1 / -1;
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  align-items: end;
  max-width: 560px;
  & > :first-child {
    width: 200px;
  }
`;

const Words = styled.p`
  grid-column: 1 / -1;
  ${small}
`;

const usual = 30;

/** What a state needs to be said beside it: until when a lead is on hold, why it is disqualified. */
export function StateAsk({ state, onGive, onLeave }: { state: string; onGive: (to: StateChange) => void; onLeave: () => void }) {
  const { timeZone } = useSession();
  const [wakes, setWakes] = useState(inDays(usual, timeZone));
  const [reason, setReason] = useState<string>();
  const [competitor, setCompetitor] = useState("");
  const isUnkept = useUnkept();
  const hold = state === "on_hold";
  const give = () => (hold ? onGive({ state, wakeAt: morningOf(wakes, timeZone) }) : reason && onGive({ state, reason, lostTo: competitor || null }));
  return (
    <Row
      onSubmit={(e) => {
        e.preventDefault();
        give();
      }}
      onKeyDown={(e) => {
        if (e.key === "Escape") {
          e.stopPropagation();
          onLeave();
        }
      }}
    >
      {hold ? <DayBox label="Wakes on" value={wakes} onChange={setWakes} autoFocus /> : <PickListChoice list="state_reason" label="Why" value={reason ?? null} onChange={setReason} />}
      {!hold && <PickListChoice list="competitors" label="Who got it" none="nobody we know of" value={competitor} onChange={setCompetitor} />}
      <Button type="submit" look="main" isDisabled={isUnkept || (hold ? !wakes : !reason)}>
        {hold ? "Put on hold" : "Disqualify"}
      </Button>
      <Button look="quiet" onPress={onLeave}>
        Leave it
      </Button>
    </Row>
  );
}

/** The same as words, once it is so; a press asks again. */
export function StateWords({ lead, onChange }: { lead: Sheet; onChange?: (state: string) => void }) {
  const reasons = (useFields().data ?? []).find((f) => f.key === "state_reason")?.choices ?? [];
  const words = lead.state === "on_hold" && lead.wakeAt ? `Wakes on ${day(lead.wakeAt)}.` : lead.state === "disqualified" && lead.stateReason ? `${reasons.find((r) => r.key === lead.stateReason)?.label ?? lead.stateReason}${lead.qualifying.lostTo ? `, ${lead.qualifying.lostTo} got it` : ""}.` : null;
  if (!words) return null;
  return (
    <Words>
      {words}{" "}
      {onChange && (
        <Button look="quiet" style={{ minHeight: 0, padding: 0, fontSize: 13 }} onPress={() => onChange(lead.state)}>
          Change
        </Button>
      )}
    </Words>
  );
}
