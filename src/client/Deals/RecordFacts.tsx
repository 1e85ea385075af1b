import { useQuery } from "@tanstack/react-query";
import { api, must } from "../api/client";
import { FactList, type SaveFact } from "../parts/FactList";
import { Fold } from "../parts/Fold";
import { tell, tellError } from "../parts/Toast";
import { useRefresh } from "../common/session";
import { keys } from "../common/keys";

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
  const refresh = useRefresh();
  const path = { id };
  const sheet = useQuery({ queryKey: keys.recordFacts(kind, id), queryFn: () => must(api.GET(`/api/${kind}/{id}/facts`, { params: { path } })) });
  const put = async (key: string, value: string, was: string) => {
    const now = await must(api.PATCH(`/api/${kind}/{id}/facts`, { params: { path }, body: { facts: { [key]: value }, was: was ? { [key]: was } : {} } }));
    await refresh();
    return now.facts.find((f) => f.key === key);
  };
  const save: SaveFact = async (fact, value) => {
    try {
      const now = await put(fact.key, value, fact.stored ?? "");
      tell(`${fact.label} is now ${now?.value ?? "blank"}.`, () => put(fact.key, fact.stored ?? "", now?.stored ?? ""));
    } catch (e) {
      tellError(e);
      throw e;
    }
  };
  return sheet.data ? <FactList label={title} facts={sheet.data.facts} mayWrite={mayWrite} onSave={save} /> : null;
}
