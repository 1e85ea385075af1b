import { useForm } from "../../common/form";
import { FormBox } from "../../common/FormBox";
import type { Change } from "../../common/keys";
import { usePeople } from "../../common/people";
import { useSession } from "../../common/session";
import { useAct } from "../../common/acting";
import { MomentBox } from "../../parts/DayBox";
import { ChoiceBox, TextBox } from "../../parts/Field";
import { Columns } from "../../parts/Layout";
import { fromLocal, inDaysAt, toLocal, zoneHint } from "../../parts/zones";
import { repeats, useStepPlans, type Task, type TaskWrite } from "./queries";

type Props = {
  task?: Task;
  /** The record a new task is planned for. */
  record?: string;
  changes?: readonly Change[];
  onKeep: (body: TaskWrite) => Promise<unknown>;
  /** Plans all steps of a step plan. */
  onSteps?: (plan: string) => Promise<unknown>;
  onDone?: () => void;
  onLeave?: () => void;
};

const halves = "repeat(2, minmax(0, 1fr))";

/** What is to be done, by whom, by when, and whether it comes again. */
export function TaskForm({ task, record = "", changes = ["work"], onKeep, onSteps, onDone, onLeave }: Props) {
  const me = useSession();
  const people = usePeople().data ?? [];
  const form = useForm({
    called: task ? "the change of the task" : "the next step",
    name: `${task?.id ?? record}:task`,
    initial: { subject: task?.subject ?? "", dueAt: task ? toLocal(new Date(task.dueAt), me.timeZone) : inDaysAt(1, me.timeZone), owner: task?.ownerId ?? me.id, repeat: task?.repeat ?? "" },
  });
  const owners = [{ key: me.id, label: `${me.name} (you)` }, ...people.filter((p) => p.id !== me.id).map((p) => ({ key: p.id, label: p.name }))];
  const send = () =>
    form.send(({ subject, dueAt, owner, repeat }) => onKeep({ subject, dueAt: fromLocal(dueAt, me.timeZone).toISOString(), owner, repeat: repeat || null }), { changes, words: task ? "Changed." : "Planned.", then: onDone });
  return (
    <FormBox form={form} look="plain" words={task ? "Keep" : "Plan it"} onSend={send} onLeave={onLeave} isReady={!!form.values.dueAt} atEnd>
      <TextBox label="What is to be done" {...form.bind("subject")} autoFocus={!!task} />
      <Columns $of={halves}>
        <MomentBox label="By when" {...form.bind("dueAt")} hint={zoneHint(me.timeZone)} />
        <ChoiceBox label="Who" {...form.bind("owner")} options={me.ownOnly ? owners.slice(0, 1) : owners} />
        <ChoiceBox label="How often" {...form.bind("repeat")} options={repeats} />
        {onSteps && <Steps changes={changes} onSteps={onSteps} />}
      </Columns>
    </FormBox>
  );
}

function Steps({ changes, onSteps }: { changes: readonly Change[]; onSteps: (plan: string) => Promise<unknown> }) {
  const plans = useStepPlans().data ?? [];
  const act = useAct();
  if (plans.length === 0) return null;
  return (
    <ChoiceBox
      label="Or several steps at once"
      value={null}
      options={plans.map((p) => ({ key: p.key, label: `${p.label} (${p.steps.length} steps)` }))}
      isDisabled={act.busy}
      onChange={(plan) => void act.run(() => onSteps(plan), { changes, words: "The steps are planned." })}
    />
  );
}
