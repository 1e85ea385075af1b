import { useState } from "react";
import styled from "styled-components";
import { useFields, useLabels } from "../common/fields";
import { usePeople } from "../common/people";
import { offered, usePickList } from "../common/PickList";
import { useMay } from "../common/session";
import { ClockBar } from "../parts/ClockBar";
import { ChoiceBox } from "../parts/Field";
import { Glance } from "../parts/Shell";
import { Soft } from "../parts/Words";
import { GiveBack } from "./GiveBack";
import { leadActs, useLeadAct, type Sheet, type StateChange } from "./queries";
import { StateAsk, StateWords } from "./StateAsk";

const Clock = styled.div`
  padding-bottom: 4px;
`;

// On hold asks until when, disqualified asks why; the rest is done at once.
const asksMore = ["on_hold", "disqualified"];

type Props = { lead: Sheet; mayWrite: boolean };

/** State, owner and clock of a lead. */
export function LeadGlance({ lead, mayWrite }: Props) {
  const act = useLeadAct(lead.id);
  const [asking, setAsking] = useState<string>();
  const move = useMove(lead, act, () => setAsking(undefined));
  const states = (useFields().data?.find((f) => f.key === "state")?.choices ?? []).filter((c) => c.key !== "handed_over" || lead.state === c.key);
  const choose = (state: string) => (asksMore.includes(state) ? setAsking(state) : state === lead.state ? setAsking(undefined) : move({ state }));
  return (
    <Glance>
      <ChoiceBox label="State" value={asking ?? lead.state} options={[...states]} isDisabled={!mayWrite || act.busy} onChange={choose} />
      <SubState lead={lead} act={act} mayWrite={mayWrite} />
      <Owner lead={lead} act={act} />
      <Clock>{lead.clock ? <ClockBar clock={lead.clock} /> : <Soft>{lead.state !== "new" ? "the clock is stopped" : lead.ownerId ? "no clock runs" : "no clock without owner"}</Soft>}</Clock>
      <GiveBack lead={lead} mayWrite={mayWrite} />
      {asking ? <StateAsk state={asking} onGive={move} onLeave={() => setAsking(undefined)} /> : <StateWords lead={lead} onChange={mayWrite ? setAsking : undefined} />}
    </Glance>
  );
}

type Act = ReturnType<typeof useLeadAct>;

function useMove(lead: Sheet, act: Act, onMoved: () => void) {
  const named = useLabels("state");
  return (to: StateChange) => {
    onMoved();
    void act.run(() => leadActs.move(lead, to), { words: (now) => `State is now ${named(now.state).toLowerCase()}.`, back: leadActs.undoMove });
  };
}

/** The finer step, where the company has some of this state. */
function SubState({ lead, act, mayWrite }: Props & { act: Act }) {
  const steps = offered(usePickList("sub_state").data?.values, [lead.subState ?? null]).filter((v) => v.key.startsWith(`${lead.state}:`));
  if (steps.length === 0) return null;
  const named = (key?: string | null) => steps.find((s) => s.key === key)?.label;
  const put = (to: string | null) => {
    const before = lead.subState ?? null;
    void act.run(() => leadActs.sub(lead, to), { words: (now) => (now.subState ? `It is at “${named(now.subState)}” now.` : "It is at no sub-state."), back: (now) => leadActs.sub(now, before) });
  };
  return <ChoiceBox label="Sub-state" value={lead.subState ?? ""} options={[{ key: "", label: "none" }, ...steps]} isDisabled={!mayWrite || act.busy} onChange={(key) => put(key || null)} />;
}

function Owner({ lead, act }: { lead: Sheet; act: Act }) {
  const people = usePeople().data ?? [];
  const may = useMay("giveLeads") && !lead.became;
  const give = (owner: string) => {
    const before = lead.ownerId ?? null;
    void act.run(() => leadActs.give(lead, owner === "none" ? null : owner), { words: (now) => (now.ownerName ? `Given to ${now.ownerName}.` : "Put back to wait for an owner."), back: (now) => leadActs.give(now, before) });
  };
  // Until all are known, the one there is.
  const known = people.some((p) => p.id === lead.ownerId) || !lead.ownerId ? people : [{ id: lead.ownerId, name: lead.ownerName ?? "", away: false }, ...people];
  return (
    <ChoiceBox
      label="Owner"
      value={lead.ownerId ?? "none"}
      options={[{ key: "none", label: "nobody yet" }, ...known.map((p) => ({ key: p.id, label: p.away ? `${p.name}, away` : p.name }))]}
      isDisabled={!may || act.busy}
      onChange={give}
    />
  );
}
