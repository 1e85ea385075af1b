import { useState } from "react";
import styled from "styled-components";
import { useSending } from "../../parts/acting";
import { Button } from "../../parts/Button";
import { MomentBox } from "../../parts/DayBox";
import { ChoiceBox, TextBox } from "../../parts/Field";
import { useTyped } from "../../parts/useTyped";
import { useSession } from "../../Setup/session";
import { usePeople } from "../queries";
import { fromLocal, inWorkingDays, repeats, toLocal, zoneHint, useStepPlans, type Task, type TaskWrite } from "./queries";

export const Grid = styled.div`
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 10px 16px;
  .wide {
    grid-column: 1 / -1;
  }
  .tall textarea {
    min-height: 190px;
  }
  .row {
    grid-column: 1 / -1;
    display: flex;
    gap: 12px;
    justify-content: flex-end;
    align-items: center;
  }
`;

type Props = { task?: Task; record?: string; onKeep: (body: TaskWrite) => Promise<unknown>; onSteps?: (plan: string) => Promise<unknown>; onLeave?: () => void };

/** What is to be done, by whom, by when, and whether it comes again. */
export function TaskForm({ task, record = "", onKeep, onSteps, onLeave }: Props) {
  const me = useSession();
  const ownOnly = me.role === "rep" || me.role === "qualifier";
  const people = usePeople().data ?? [];
  const plans = useStepPlans().data ?? [];
  const [subject, setSubject, forget] = useTyped(`${task?.id ?? record}:task`, task?.subject ?? "");
  const [due, setDue] = useState(task ? toLocal(new Date(task.dueAt), me.timeZone) : inWorkingDays(1, me.timeZone));
  const [owner, setOwner] = useState(task?.ownerId ?? me.id);
  const [repeat, setRepeat] = useState(task?.repeat ?? "");
  const { busy, send, said, whole } = useSending();
  const owners = [{ key: me.id, label: `${me.name} (you)` }, ...people.filter((p) => p.id !== me.id).map((p) => ({ key: p.id, label: p.name }))];
  const run = (work: () => Promise<unknown>) => send(() => work().then(forget));
  return (
    <Grid
      as="form"
      onSubmit={(e: React.FormEvent) => {
        e.preventDefault();
        void run(() => onKeep({ subject, dueAt: fromLocal(due, me.timeZone).toISOString(), owner, repeat: repeat || null }));
      }}
    >
      <div className="wide">
        <TextBox label="What is to be done" value={subject} onChange={setSubject} error={said("subject")} />
      </div>
      <MomentBox label="By when" value={due} onChange={setDue} hint={zoneHint(me.timeZone)} error={said("dueAt")} />
      <ChoiceBox label="Who" value={owner} options={ownOnly ? owners.slice(0, 1) : owners} onChange={setOwner} error={said("owner")} />
      <ChoiceBox label="How often" value={repeat} options={repeats} onChange={setRepeat} />
      {onSteps && plans.length > 0 ? <ChoiceBox label="Or several steps at once" value={null} options={plans.map((p) => ({ key: p.key, label: `${p.label} (${p.steps.length} steps)` }))} onChange={(plan) => void run(() => onSteps(plan))} /> : <span />}
      <div className="row">
        {whole && <span style={{ color: "var(--bad)", fontSize: 13 }}>{whole}</span>}
        {onLeave && (
          <Button look="quiet" onPress={onLeave}>
            Leave it
          </Button>
        )}
        <Button type="submit" isDisabled={busy || !due}>
          {task ? "Keep" : "Plan it"}
        </Button>
      </div>
    </Grid>
  );
}
