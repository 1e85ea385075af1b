import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, must, ApiError } from "../api/client";
import { useAct } from "../common/acting";
import { keys } from "../common/keys";
import { useWorks } from "../common/session";
import { Button } from "../parts/Button";
import type { Fact, SaveFact } from "../parts/FactEditor";
import { FactList } from "../parts/FactList";
import { tellError } from "../parts/Toast";
import { Subtitle } from "../parts/Words";
import { Findings } from "./Findings";
import { Meanwhile } from "./Meanwhile";
import { leadActs, useLeadAct, type Sheet } from "./queries";

type Clash = { mine: string; theirs: Fact };

const isStale = (e: unknown) => e instanceof ApiError && e.status === 412;

/** The facts of a lead, with the way back after each change, and the evidence of its qualification. What somebody else changed meanwhile is not overwritten unseen. */
export function Facts({ lead, ask }: { lead: Sheet; ask: number }) {
  const mayWrite = useWorks("workLeads")(lead.ownerId) && !lead.became;
  const [clash, setClash] = useState<Clash>();
  const save = useSave(lead, setClash);
  const more = (
    <>
      {" · "}
      <LookUp lead={lead} />
    </>
  );
  return (
    <>
      <FactList facts={lead.facts} mayWrite={mayWrite} onSave={save} usual={lead.sourceName} asked={lead.score.unknown[0]?.field} ask={ask} more={more} />
      {!lead.became && (
        <>
          <Subtitle>What was found out</Subtitle>
          <Findings questions={lead.qualifying.questions} />
        </>
      )}
      {clash && <Meanwhile {...clash} onKeep={() => setClash(undefined)} onPut={() => (setClash(undefined), void save(clash.theirs, clash.mine).catch(tellError))} />}
    </>
  );
}

/** Writes a fact; where something else of the lead changed since, it is written to the lead as it is then. */
function useSave(lead: Sheet, onClash: (clash: Clash) => void): SaveFact {
  const act = useLeadAct(lead.id);
  const queries = useQueryClient();
  const put = async (fact: Fact, value: string, now: Sheet) => {
    let refusal: unknown;
    const done = await act.run(() => leadActs.edit(now, { [fact.key]: value }), {
      words: (after) => `${fact.label} is now ${after.facts.find((f) => f.key === fact.key)?.value ?? "blank"}.`,
      back: (after) => leadActs.edit(after, { [fact.key]: fact.stored ?? "" }),
      // What is wrong stands at the fact; a stale write is settled below.
      refused: (e) => ((refusal = e), isStale(e) || (e instanceof ApiError && !!e.field)),
    });
    if (!done && refusal) throw refusal;
  };
  return async (fact, value) => {
    let now = queries.getQueryData<Sheet>(keys.lead(lead.id)) ?? lead;
    for (let tries = 0; ; tries++) {
      const theirs = now.facts.find((f) => f.key === fact.key);
      if (theirs && theirs.stored !== fact.stored) return onClash({ mine: value, theirs });
      try {
        return await put(fact, value, now);
      } catch (e) {
        if (!isStale(e) || tries > 2) throw e;
        now = act.show(await must(api.GET("/api/leads/{id}", { params: { path: { id: lead.id } } })));
      }
    }
  };
}

/** Asks the company directory for what is blank. */
function LookUp({ lead }: { lead: Sheet }) {
  const act = useAct();
  const look = () =>
    act.run(() => must(api.POST("/api/leads/{id}/look-up", { params: { path: { id: lead.id } } })), {
      changes: ["lead"],
      words: ({ fields }) => (fields.length ? `Filled from the company directory: ${fields.join(", ").toLowerCase()}.` : "The company directory knows nothing more."),
    });
  return (
    <Button look="inline" isPending={act.busy} onPress={() => void look()}>
      look the company up
    </Button>
  );
}
