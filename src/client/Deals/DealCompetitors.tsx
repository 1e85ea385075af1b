import { useState } from "react";
import { api, must, type Schema } from "../api/client";
import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import { PickListChoice } from "../common/PickList";
import { Button } from "../parts/Button";
import { TextBox } from "../parts/Field";
import { Fold } from "../parts/Fold";
import { Hint, Quiet } from "../parts/Words";
import { useDealAct } from "./acting";
import { Entry } from "./directory";

type Sheet = Schema["DealSheet"];
type Competitor = { competitor: string; note: string };

const write = (id: string, competitors: Competitor[]) => must(api.PUT("/api/deals/{id}/competitors", { params: { path: { id } }, body: { competitors } }));

/** The others that sell to them, with what is known of it. */
export function DealCompetitors({ sheet, may }: { sheet: Sheet; may: boolean }) {
  const act = useDealAct(sheet.deal.id);
  const [adding, setAdding] = useState(false);
  const now = sheet.competitors.map((r) => ({ competitor: r.competitor, note: r.note }));
  const drop = (r: Sheet["competitors"][number]) => void act.run(() => write(sheet.deal.id, now.filter((n) => n.competitor !== r.competitor)), { words: `${r.name} is taken off.` });
  return (
    <Fold title={`Competitors${sheet.competitors.length ? `, ${sheet.competitors.length}` : ""}`} open={sheet.competitors.length > 0}>
      {sheet.competitors.map((r) => (
        <Entry key={r.competitor}>
          <span>
            {r.name}
            {r.note && <Quiet>: {r.note}</Quiet>}
          </span>
          {may && (
            <Button look="quiet" aria-label={`${r.name} is none any more`} onPress={() => drop(r)}>
              ×
            </Button>
          )}
        </Entry>
      ))}
      {sheet.competitors.length === 0 && <Hint>None known.</Hint>}
      {may && !adding && (
        <Button look="quiet" onPress={() => setAdding(true)}>
          Add one
        </Button>
      )}
      {adding && <Adding deal={sheet.deal.id} now={now} onDone={() => setAdding(false)} />}
    </Fold>
  );
}

function Adding({ deal, now, onDone }: { deal: string; now: Competitor[]; onDone: () => void }) {
  const { show } = useDealAct(deal);
  const form = useForm({ called: "the competitor", name: `${deal}:competitor`, initial: { competitor: "", note: "" } });
  const add = () => form.send((one) => write(deal, [...now.filter((n) => n.competitor !== one.competitor), one]).then(show), { changes: ["deal"], words: "Kept.", then: onDone });
  return (
    <FormBox form={form} words="Add" look="plain" onSend={add} onLeave={onDone} leaveWords="Cancel" isReady={!!form.values.competitor}>
      <PickListChoice list="competitors" label="Who" {...form.bind("competitor")} value={form.values.competitor || null} />
      <TextBox label="What is known of it" {...form.bind("note")} />
    </FormBox>
  );
}
