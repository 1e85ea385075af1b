import { api, must } from "../api/client";
import { FactList, type SaveFact } from "../parts/FactList";
import { tell, tellTrouble } from "../parts/Toast";
import { useRefresh } from "../Setup/session";
import { leadActs, useLeadAct, type Sheet } from "./queries";

type Props = { lead: Sheet; mayWrite: boolean; ask: number };

/** The facts of a lead, with the way back after each change. */
export function Facts({ lead, mayWrite, ask }: Props) {
  const act = useLeadAct(lead.id);
  const save: SaveFact = async (fact, value) => {
    const now = await act.mutateAsync(() => leadActs.edit(lead, { [fact.key]: value }));
    tell(`${fact.label} is now ${now.facts.find((f) => f.key === fact.key)?.value ?? "blank"}.`, () => act.mutate(() => leadActs.edit(now, { [fact.key]: fact.stored ?? "" })));
  };
  const more = (
    <>
      {" · "}
      <LookUp lead={lead} />
    </>
  );
  return <FactList facts={lead.facts} mayWrite={mayWrite} onSave={save} usual={lead.sourceName} asked={lead.score.unknown[0]?.field} ask={ask} more={more} />;
}

/** Asks the company directory for what is blank. */
function LookUp({ lead }: { lead: Sheet }) {
  const refresh = useRefresh();
  const look = async () => {
    try {
      const { fields } = await must(api.POST("/api/leads/{id}/look-up", { params: { path: { id: lead.id } } }));
      tell(fields.length ? `Filled from the company directory: ${fields.join(", ").toLowerCase()}.` : "The company directory knows nothing more.");
      await refresh();
    } catch (e) {
      tellTrouble(e);
    }
  };
  return (
    <button type="button" onClick={() => void look()}>
      look the company up
    </button>
  );
}
