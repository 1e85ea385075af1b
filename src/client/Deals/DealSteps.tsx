import { api, must, type Schema } from "../api/client";
import { useAct } from "../common/acting";
import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import { useSession } from "../common/session";
import { acts } from "../Leads/Activities/queries";
import { Button } from "../parts/Button";
import { DayBox } from "../parts/DayBox";
import { inDays } from "../parts/days";
import { TextBox } from "../parts/Field";
import { Fold } from "../parts/Fold";
import { day } from "../parts/format";
import { Columns } from "../parts/Layout";
import { Quiet } from "../parts/Words";
import { morningOf } from "../parts/zones";
import { useDealAct } from "./acting";
import { Entry } from "./directory";

type Sheet = Schema["DealSheet"];

/** The next step of a deal, and a note or call about it. */
export function DealSteps({ sheet, may }: { sheet: Sheet; may: boolean }) {
  const open = sheet.tasks.filter((t) => !t.doneAt);
  return (
    <>
      <Fold title={open.length ? `Next step: ${open[0]!.subject}` : "No next step"} open={open.length === 0 && may}>
        {open.map((t) => (
          <Step key={t.id} task={t} may={may} />
        ))}
        {may && <Plan deal={sheet.deal.id} />}
      </Fold>
      {may && (
        <Fold title="Note or call">
          <NoteOrCall deal={sheet.deal.id} />
        </Fold>
      )}
    </>
  );
}

function Step({ task: t, may }: { task: Sheet["tasks"][number]; may: boolean }) {
  const act = useAct();
  const done = () => void act.run(() => acts.done(t.id), { changes: ["work", "deal"], words: `${t.subject} is done.`, back: () => acts.reopen(t.id) });
  return (
    <Entry>
      <span>
        {t.subject}
        <Quiet>
          , {day(t.dueAt)}, {t.owner}
        </Quiet>
      </span>
      {may && (
        <Button look="quiet" onPress={done}>
          Done
        </Button>
      )}
    </Entry>
  );
}

function Plan({ deal }: { deal: string }) {
  const { timeZone } = useSession();
  const { show } = useDealAct(deal);
  const form = useForm({ called: "the next step", name: `${deal}:task`, initial: { subject: "", due: inDays(3, timeZone) } });
  const plan = () =>
    form.send(({ subject, due }) => must(api.POST("/api/deals/{id}/tasks", { params: { path: { id: deal } }, body: { subject, dueAt: morningOf(due, timeZone), owner: null, repeat: null } })).then(show), { changes: ["work", "deal"], words: "Planned." });
  return (
    <FormBox form={form} words="Plan" look="plain" onSend={plan} isReady={!!form.values.subject.trim() && !!form.values.due}>
      <Columns $of="minmax(0, 1fr) 136px" $gap={2} $align="start">
        <TextBox label="What comes next" {...form.bind("subject")} />
        <DayBox label="By" {...form.bind("due")} error={form.said("due") ?? form.said("dueAt")} />
      </Columns>
    </FormBox>
  );
}

function NoteOrCall({ deal }: { deal: string }) {
  const { show } = useDealAct(deal);
  const form = useForm({ called: "the note", name: `${deal}:note`, initial: { text: "" } });
  const keep = (kind: "note" | "call") => form.send(({ text }) => must(api.POST("/api/deals/{id}/touches", { params: { path: { id: deal } }, body: { kind, text } })).then(show), { changes: ["story"], words: kind === "call" ? "The call is recorded." : "The note is kept." });
  const isBlank = !form.values.text.trim();
  const asCall = (
    <Button look="quiet" isDisabled={isBlank} onPress={() => void keep("call")}>
      as call
    </Button>
  );
  return (
    <FormBox form={form} words="Keep as note" look="plain" onSend={() => keep("note")} isReady={!isBlank} beside={asCall}>
      <TextBox lines label="What was said, or is worth remembering" {...form.bind("text")} />
    </FormBox>
  );
}
