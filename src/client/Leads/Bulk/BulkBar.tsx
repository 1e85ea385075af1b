import { useState } from "react";
import styled from "styled-components";
import { Button } from "../../parts/Button";
import { count, whole } from "../../parts/format";
import { small } from "../../parts/theme";
import { useMay } from "../../Setup/session";
import { BulkForm, type Kind } from "./BulkForm";
import { BulkLately } from "./BulkLately";
import { isAtWork, useFollow, type Order } from "./queries";

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

/** Which leads are meant: some, or all of the sentence. */
export type Ticked = Set<string> | "all";

type Props = { ticked: Ticked; all: number; about: boolean; where: string; view?: { id: string; mayDo: string[] }; onTick: (ticked: Ticked) => void; onLeave: () => void };

/** What can be done with the leads that are ticked. */
export function BulkBar({ ticked, all, about, where, view, onTick, onLeave }: Props) {
  const [kind, setKind] = useState<Kind | null>(null);
  const [lately, setLately] = useState(false);
  const [followed, setFollowed] = useState<string | null>(null);
  const edit = useFollow(followed, setFollowed);
  const works = useMay("workLeads");
  const gives = useMay("giveLeads") || !!view?.mayDo.includes("give");
  const removes = useMay("giveLeads") || !!view?.mayDo.includes("delete");
  const handsOver = useMay("handOver") || !!view?.mayDo.includes("hand_over");
  const addresses = useMay("runIntake") || works;
  const acts: [Kind, string, boolean][] = [
    ["fact", "Change a fact", works],
    ["tag", "Put a tag on", works],
    ["untag", "Take a tag off", works],
    ["give", "Give", gives],
    ["swap", "Exchange owners", gives && ticked !== "all" && ticked.size === 2],
    ["state", "Change the state", works],
    ["campaign", "Add to a campaign", addresses],
    ["hand_over", "Hand over", handsOver],
    ["remove", "Remove", removes],
  ];
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
        acts
          .filter(([, , may]) => may)
          .map(([key, label]) => (
            <Button key={key} look="quiet" isDisabled={some === 0} onPress={() => setKind(key)}>
              {label}
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
