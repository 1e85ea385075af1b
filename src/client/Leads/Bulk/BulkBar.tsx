import { useState } from "react";
import styled from "styled-components";
import { Button } from "../../parts/Button";
import { count, whole } from "../../parts/format";
import { small } from "../../parts/theme";
import { useMay } from "../../common/session";
import { BulkForm } from "./BulkForm";
import { BulkLately } from "./BulkLately";
import { isAtWork, useFollow, type Order, type Ticked } from "../../common/bulk";
import { titles, type Kind } from "./titles";

const Bar = styled.div`
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 2px 14px;
  padding: 6px 18px;
  min-height: 48px;
  border-top: 1px solid var(--hair);
  background: var(--sheet);
  font-size: 14px;
  & > b {
    margin-right: 4px;
  }
  .apart {
    margin-left: auto;
  }
`;

const Working = styled.span`
  ${small}
`;

type Props = { ticked: Ticked; all: number; about: boolean; where: string; view?: { id: string; mayDo: string[] }; onTick: (ticked: Ticked) => void; onLeave: () => void };

/** What can be done with the leads that are ticked. */
export function BulkBar({ ticked, all, about, where, view, onTick, onLeave }: Props) {
  const [kind, setKind] = useState<Kind | null>(null);
  const [lately, setLately] = useState(false);
  const [followed, setFollowed] = useState<string | null>(null);
  const edit = useFollow(followed, setFollowed);
  const kinds = useKinds(view, ticked);
  const some = ticked === "all" ? all : ticked.size;
  const order: Omit<Order, "act"> = ticked === "all" ? { where, view: view?.id } : { leads: [...ticked], view: view?.id };
  return (
    <Bar role="region" aria-label="Several at once">
      <b role="status">{ticked === "all" ? `All ${about ? "of about " : ""}${count(all, "lead")}` : `${whole(some)} ticked`}</b>
      {ticked !== "all" && (
        <Button look="quiet" onPress={() => onTick("all")}>
          All of this list
        </Button>
      )}
      {some > 0 && (
        <Button look="quiet" onPress={() => onTick(new Set())}>
          None
        </Button>
      )}
      {isAtWork(edit) ? (
        <Working role="status">
          {edit!.state === "doing" ? "Changing" : "Taking back"}: {whole(edit!.looked)} of {whole(edit!.state === "doing" ? edit!.leads : edit!.changed)}. It goes on if you leave.
        </Working>
      ) : (
        kinds.map((key) => (
          <Button key={key} look="quiet" isDisabled={some === 0} onPress={() => setKind(key)}>
            {titles[key]}
          </Button>
        ))
      )}
      <Button look="quiet" className="apart" onPress={() => setLately(true)}>
        Done lately
      </Button>
      <Button look="quiet" onPress={onLeave}>
        Close
      </Button>
      {kind && <BulkForm key={kind} kind={kind} which={order} onClose={() => setKind(null)} onOrdered={setFollowed} />}
      {lately && <BulkLately onClose={() => setLately(false)} onFollow={setFollowed} />}
    </Bar>
  );
}

/** What the person may do with them, by role or by what the view permits. */
function useKinds(view: Props["view"], ticked: Ticked): Kind[] {
  const [works, gives, handsOver, runs] = [useMay("workLeads"), useMay("giveLeads"), useMay("handOver"), useMay("runIntake")];
  const permits = (act: string) => !!view?.mayDo.includes(act);
  const mayGive = gives || permits("give");
  const may: Partial<Record<Kind, boolean>> = {
    fact: works,
    tag: works,
    untag: works,
    give: mayGive,
    swap: mayGive && ticked !== "all" && ticked.size === 2,
    state: works,
    campaign: runs || works,
    hand_over: handsOver || permits("hand_over"),
    remove: gives || permits("delete"),
  };
  return (Object.keys(may) as Kind[]).filter((kind) => may[kind]);
}
