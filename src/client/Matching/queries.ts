import { useQuery } from "@tanstack/react-query";
import { api, must, type Schema } from "../api/client";

export type Twin = Schema["TwinItem"];
export type TwinSheet = Schema["TwinSheet"];

/** While looking goes on the list is asked for again. */
export const useTwins = () =>
  useQuery({
    queryKey: ["twins"],
    queryFn: () => must(api.GET("/api/twins")),
    refetchInterval: (query) => (query.state.data && stillLooking(query.state.data.looking) ? 1500 : 30_000),
  });

export const stillLooking = (looking: Schema["HuntProgress"]) => looking.done < looking.all || looking.due > 0;

export const useTwin = (id: string | undefined, keep?: string) =>
  useQuery({
    queryKey: ["twin", id, keep],
    queryFn: () => must(api.GET("/api/twins/{id}", { params: { path: { id: id! }, query: { keep } } })),
    enabled: !!id,
  });

export const useMerges = () => useQuery({ queryKey: ["merges"], queryFn: () => must(api.GET("/api/merges")) });

export const twinActs = {
  merge: (id: string, keep: string, take: Record<string, string>) => must(api.POST("/api/twins/{id}/merge", { params: { path: { id } }, body: { keep, take } })),
  distinct: (id: string) => must(api.POST("/api/twins/{id}/distinct", { params: { path: { id } } })),
  ask: (id: string) => must(api.POST("/api/twins/{id}/ask", { params: { path: { id } } })),
  apart: (id: string) => must(api.POST("/api/merges/{id}/take-apart", { params: { path: { id } } })),
  look: () => must(api.POST("/api/twins/look")),
};
