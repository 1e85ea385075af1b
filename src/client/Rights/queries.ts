import { useQuery } from "@tanstack/react-query";
import { api, must, type Schema } from "../api/client";
import { keys } from "../common/keys";

export type AskLine = Schema["AskLine"];
export type KnownView = Schema["KnownView"];
export type How = "shared" | "given" | "declined";

export const useAsks = () => useQuery({ queryKey: keys.asks, queryFn: () => must(api.GET("/api/known")) });

const at = (id: string) => ({ params: { path: { id } } });

export const askActs = {
  ask: (id: string, word: string) => must(api.POST("/api/known/{id}/ask", { ...at(id), body: { word } })),
  answer: (id: string, how: How, word: string) => must(api.POST("/api/known/{id}/answer", { ...at(id), body: { how, word } })),
  undo: (id: string) => must(api.POST("/api/known/{id}/undo", at(id))),
};
