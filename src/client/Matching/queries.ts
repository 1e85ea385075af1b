import { useQuery } from "@tanstack/react-query";
import { api, must, type Schema } from "../api/client";
import { keys } from "../common/keys";

export type Duplicate = Schema["DuplicateItem"];
export type DuplicateSheet = Schema["DuplicateSheet"];

/** While looking goes on the list is asked for again. */
export const useDuplicates = () =>
  useQuery({
    queryKey: keys.duplicates,
    queryFn: () => must(api.GET("/api/duplicates")),
    refetchInterval: (query) => (query.state.data && stillLooking(query.state.data.looking) ? 1500 : 30_000),
  });

export const stillLooking = (looking: Schema["HuntProgress"]) => looking.done < looking.all || looking.due > 0;

export const useDuplicate = (id: string | undefined, keep?: string) =>
  useQuery({
    queryKey: keys.duplicate(id, keep),
    queryFn: () => must(api.GET("/api/duplicates/{id}", { params: { path: { id: id! }, query: { keep } } })),
    enabled: !!id,
  });

export const useMerges = () => useQuery({ queryKey: keys.merges, queryFn: () => must(api.GET("/api/merges")) });

export const duplicateActs = {
  merge: (id: string, keep: string, take: Record<string, string>) => must(api.POST("/api/duplicates/{id}/merge", { params: { path: { id } }, body: { keep, take } })),
  distinct: (id: string) => must(api.POST("/api/duplicates/{id}/distinct", { params: { path: { id } } })),
  ask: (id: string) => must(api.POST("/api/duplicates/{id}/ask", { params: { path: { id } } })),
  apart: (id: string) => must(api.POST("/api/merges/{id}/take-apart", { params: { path: { id } } })),
  look: () => must(api.POST("/api/duplicates/look")),
};
