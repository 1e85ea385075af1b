import { useQueryClient } from "@tanstack/react-query";
import type { Schema } from "../api/client";
import { tell, tellError } from "../parts/Toast";
import { useRefresh } from "../common/session";
import { keys } from "../common/keys";

type Sheet = Schema["DealSheet"];

/** Does something to a deal and shows it as it is then; what went wrong is told, and gives false. */
export function useDealAct(id: string) {
  const queries = useQueryClient();
  const refresh = useRefresh();
  return async (work: () => Promise<Sheet>, words?: string) => {
    try {
      queries.setQueryData(keys.deal(id), await work());
      if (words) tell(words);
      void refresh();
      return true;
    } catch (e) {
      tellError(e);
      void refresh();
      return false;
    }
  };
}
