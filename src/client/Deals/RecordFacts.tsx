import { useQuery } from "@tanstack/react-query";
import { api, must } from "../api/client";
import { useAct } from "../common/acting";
import { keys } from "../common/keys";
import type { SaveFact } from "../parts/FactEditor";
import { FactList } from "../parts/FactList";
import { Fold } from "../parts/Fold";

type Props = { kind: "contacts" | "accounts" | "deals"; id: string; title: string; mayWrite: boolean; open?: boolean };

/** The facts of a contact, an account or a deal, asked for when they are unfolded, each changed in place. */
export function RecordFacts({ title, open = false, ...of }: Props) {
  return (
    <Fold title={title} open={open}>
      <Facts title={title} {...of} />
    </Fold>
  );
}

function Facts({ kind, id, title, mayWrite }: Props) {
  const act = useAct();
  const path = { id };
  const sheet = useQuery({ queryKey: keys.recordFacts(kind, id), queryFn: () => must(api.GET(`/api/${kind}/{id}/facts`, { params: { path } })) });
  const put = async (key: string, value: string, was: string) => {
    const now = await must(api.PATCH(`/api/${kind}/{id}/facts`, { params: { path }, body: { facts: { [key]: value }, was: was ? { [key]: was } : {} } }));
    return now.facts.find((f) => f.key === key);
  };
  const save: SaveFact = async (fact, value) => {
    const was = fact.stored ?? "";
    let refusal: unknown;
    const done = await act.run(() => put(fact.key, value, was), {
      changes: ["deal"],
      words: (now) => `${fact.label} is now ${now?.value ?? "blank"}.`,
      back: (now) => put(fact.key, was, now?.stored ?? ""),
      refused: (e) => ((refusal = e), false),
    });
    if (!done && refusal) throw refusal;
  };
  return sheet.data ? <FactList label={title} facts={sheet.data.facts} mayWrite={mayWrite} onSave={save} /> : null;
}
