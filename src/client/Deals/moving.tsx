import { useState } from "react";
import { api, must, type Schema } from "../api/client";
import { useAct } from "../common/acting";
import { PickListChoice } from "../common/PickList";
import { Button } from "../parts/Button";
import { Overlay } from "../parts/Dialog";
import { day } from "../parts/format";
import { Row, Stack } from "../parts/Layout";
import { useAnyUnread } from "../parts/unread";

type Deal = Schema["DealItem"];
export type Move = Partial<Schema["DealChange"]>;

const blank: Schema["DealChange"] = { stage: null, expectedClose: null, amount: null, lostReason: null, lostTo: null, probability: null, name: null, currency: null, owner: null };

/** Changes a deal and offers the way back; a stale change is said and shows theirs. */
export function useMoveDeal() {
  const act = useAct();
  const send = (deal: Deal, change: Move) => must(api.PATCH("/api/deals/{id}", { params: { path: { id: deal.id } }, headers: { "If-Match": `"${deal.version}"` }, body: { ...blank, ...change } }));
  return async (deal: Deal, change: Move) => {
    if (Object.values(change).every((v) => v === undefined || v === null)) return;
    const before: Move = { stage: deal.stageKey, expectedClose: deal.expectedClose, amount: deal.amount, currency: deal.currency, name: deal.name, probability: deal.ownProbability ? deal.probability : -1 };
    await act.run(() => send(deal, change), {
      changes: ["deal"],
      words: (now) => `${now.deal.name}: ${now.stageName}, ${day(now.deal.closedAt ?? now.deal.expectedClose)}.`,
      // The way back from a closed stage is to open it again; the rest follows then.
      back: deal.closedAt ? undefined : (now) => send(now.deal, before),
    });
  };
}

type Props = { deal: Deal; onLose: (why: { lostReason: string; lostTo: string | null }) => void; onLeave: () => void };

/** Why a deal is lost, and to whom. */
export function Losing({ deal, onLose, onLeave }: Props) {
  const [reason, setReason] = useState<string>();
  const [competitor, setCompetitor] = useState("");
  const isUnread = useAnyUnread();
  return (
    <Overlay title={`${deal.name} is lost`} isOpen onClose={onLeave} width={460}>
      <Stack>
        <PickListChoice list="lost-reasons" label="Why is it lost?" value={reason ?? null} onChange={setReason} />
        <PickListChoice list="competitors" label="Who got it?" none="nobody we know of" value={competitor} onChange={setCompetitor} />
        <Row>
          <Button look="main" isDisabled={!reason || isUnread} onPress={() => reason && onLose({ lostReason: reason, lostTo: competitor || null })}>
            Close as lost
          </Button>
          <Button look="quiet" onPress={onLeave}>
            Leave it open
          </Button>
        </Row>
      </Stack>
    </Overlay>
  );
}
