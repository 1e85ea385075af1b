import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, must } from "../api/client";
import { isAway } from "../common/Away";
import { useSettled } from "../parts/useSettled";
import type { Model } from "./model";
import { keys } from "../common/keys";

export const useScoring = () =>
  useQuery({
    queryKey: keys.scoring,
    queryFn: () => must(api.GET("/api/scoring")),
    // While all leads are scored anew, how far that is; else where they stand by now, which may have been counted a while ago when first shown.
    refetchInterval: (q) => (q.state.data?.run && !q.state.data.run.endedAt && !q.state.data.run.trouble ? 1000 : 30_000),
  });

export const useEditions = () => useQuery({ queryKey: keys.scoringEditions, queryFn: () => must(api.GET("/api/scoring/editions")) });

/** Who would move by a model. The last answer stands until the next one is there. */
export function useTrial(model: Model | undefined) {
  const settled = useSettled(model, 120);
  return useQuery({
    queryKey: keys.scoringTrial(settled),
    enabled: !!settled,
    queryFn: () => must(api.POST("/api/scoring/trial", { body: settled! })),
    placeholderData: keepPreviousData,
    refetchInterval: (q) => (q.state.data && q.state.data.done < q.state.data.leads ? 700 : false),
    gcTime: 60_000,
  });
}

export const useMovers = (model: Model, from: string, to: string) =>
  useQuery({ queryKey: keys.movers(model, from, to), queryFn: () => must(api.POST("/api/scoring/trial/movers", { body: { model, from, to } })), retry: (tries, error) => isAway(error) || tries < 3, retryDelay: 700, gcTime: 60_000 });

/** A model held against what became of leads; the live one where none is given. */
export function useOutcomes(model?: Model) {
  const settled = useSettled(model, 400);
  return useQuery({
    queryKey: keys.outcomes(settled ?? "live"),
    queryFn: () => (settled ? must(api.POST("/api/scoring/outcomes", { body: settled })) : must(api.GET("/api/scoring/outcomes"))),
    placeholderData: keepPreviousData,
    staleTime: 60_000,
    gcTime: 60_000,
  });
}
