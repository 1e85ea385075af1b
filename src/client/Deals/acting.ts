import { useQueryClient } from "@tanstack/react-query";
import type { Schema } from "../api/client";
import { useAct } from "../common/acting";
import { keys } from "../common/keys";

type Sheet = Schema["DealSheet"];

/** Acts on a deal whose answer is the deal as it is then; it is shown at once. What went wrong is told, and gives false. */
export function useDealAct(id: string) {
  const queries = useQueryClient();
  const act = useAct();
  const show = (sheet: Sheet) => {
    queries.setQueryData(keys.deal(id), sheet);
    return sheet;
  };
  return {
    busy: act.busy,
    show,
    run: (work: () => Promise<Sheet>, words?: string, then?: () => void) => act.run(() => work().then(show), { changes: ["deal"], but: keys.deal(id), words, then }),
  };
}
