import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, must, ApiError } from "../api/client";
import { FactList, type Fact, type SaveFact } from "../parts/FactList";
import { tell, tellError } from "../parts/Toast";
import { useRefresh } from "../Setup/session";
import { Meanwhile } from "./Meanwhile";
import { leadActs, useLeadAct, type Sheet } from "./queries";

type Props = { lead: Sheet; mayWrite: boolean; ask: number };
type Clash = { mine: string; theirs: Fact };

/** The facts of a lead, with the way back after each change. What somebody else changed meanwhile is not overwritten unseen. */
export function Facts({ lead, mayWrite, ask }: Props) {
  const act = useLeadAct(lead.id, { staleIsMine: true });
  const queries = useQueryClient();
  const [clash, setClash] = useState<Clash>();
  const put = async (fact: Fact, value: string, now: Sheet) => {
    const after = await act.mutateAsync(() => leadActs.edit(now, { [fact.key]: value }));
    tell(`${fact.label} is now ${after.facts.find((f) => f.key === fact.key)?.value ?? "blank"}.`, () => act.mutateAsync(() => leadActs.edit(after, { [fact.key]: fact.stored ?? "" })));
  };
  const save: SaveFact = async (fact, value) => {
    let now = queries.getQueryData<Sheet>(["lead", lead.id]) ?? lead;
    for (let tries = 0; ; tries++) {
      const theirs = now.facts.find((f) => f.key === fact.key);
      if (theirs && theirs.stored !== fact.stored) return setClash({ mine: value, theirs });
      try {
        return await put(fact, value, now);
      } catch (e) {
        if (!(e instanceof ApiError && e.status === 412) || tries > 2) throw e;
        // Something else of the lead changed: look, and put it again if this fact did not.
        now = await must(api.GET("/api/leads/{id}", { params: { path: { id: lead.id } } }));
        queries.setQueryData(["lead", lead.id], now);
      }
    }
  };
  const more = (
    <>
      {" · "}
      <LookUp lead={lead} />
    </>
  );
  return (
    <>
      <FactList facts={lead.facts} mayWrite={mayWrite} onSave={save} usual={lead.sourceName} asked={lead.score.unknown[0]?.field} ask={ask} more={more} />
      {clash && <Meanwhile {...clash} onKeep={() => setClash(undefined)} onPut={() => (setClash(undefined), void save(clash.theirs, clash.mine).catch(tellError))} />}
    </>
  );
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
      tellError(e);
    }
  };
  return (
    <button type="button" onClick={() => void look()}>
      look the company up
    </button>
  );
}
