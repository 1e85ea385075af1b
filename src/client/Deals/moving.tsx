import { useState } from "react";
import { api, must, type Schema } from "../api/client";
import { Button } from "../parts/Button";
import { Overlay } from "../parts/Dialog";
import { day } from "../parts/format";
import { PickListChoice, useUnkept } from "../common/PickList";
import { tell, tellError } from "../parts/Toast";
import { useRefresh } from "../common/session";

type Deal = Schema["DealItem"];
export type Move = Partial<Schema["DealChange"]>;

const blank: Schema["DealChange"] = { stage: null, expectedClose: null, amount: null, lostReason: null, lostTo: null, probability: null, name: null, currency: null, owner: null };

/** Changes a deal and offers the way back; a stale change is said and shows theirs. */
export function useMoveDeal() {
  const refresh = useRefresh();
  const send = (deal: Deal, change: Move) =>
    must(api.PATCH("/api/deals/{id}", { params: { path: { id: deal.id } }, headers: { "If-Match": `"${deal.version}"` }, body: { ...blank, ...change } }));
  return async (deal: Deal, change: Move) => {
    if (Object.values(change).every((v) => v === undefined || v === null)) return;
    try {
      const now = await send(deal, change);
      // The way back from a closed stage is to open it again; the rest follows then.
      const before: Move = deal.closedAt ? { stage: null } : { stage: deal.stageKey, expectedClose: deal.expectedClose, amount: deal.amount, currency: deal.currency, name: deal.name, probability: deal.ownProbability ? deal.probability : -1 };
      tell(`${now.deal.name}: ${now.stageName}, ${day(now.deal.closedAt ?? now.deal.expectedClose)}.`, deal.closedAt ? undefined : () => send(now.deal, before).then(refresh));
    } catch (e) {
      tellError(e);
    }
    await refresh();
  };
}

type Props = { deal: Deal; onLose: (why: { lostReason: string; lostTo: string | null }) => void; onLeave: () => void };

/** Why a deal is lost, and to whom. */
export function Losing({ deal, onLose, onLeave }: Props) {
  const [reason, setReason] = useState<string>();
  const [competitor, setCompetitor] = useState("");
  const isUnkept = useUnkept();
  return (
    <Overlay title={`${deal.name} is lost`} isOpen onClose={onLeave} width={460}>
      <div style={{ display: "grid", gap: 12 }}>
        <PickListChoice list="lost-reasons" label="Why is it lost?" value={reason ?? null} onChange={setReason} />
        <PickListChoice list="competitors" label="Who got it?" none="nobody we know of" value={competitor} onChange={setCompetitor} />
        <div>
          <Button look="main" isDisabled={!reason || isUnkept} onPress={() => reason && onLose({ lostReason: reason, lostTo: competitor || null })}>
            Close as lost
          </Button>
          <Button look="quiet" onPress={onLeave}>
            Leave it open
          </Button>
        </div>
      </div>
    </Overlay>
  );
}
