import { useQuery } from "@tanstack/react-query";
import { api, must, type Schema } from "../api/client";
import { keys } from "../common/keys";
import { count } from "../parts/format";

export type Holdings = Schema["HoldingsView"];
export type Holding = Schema["HoldingView"];
export type HandingOrder = Schema["HandingOrder"];
export type HandingView = Schema["HandingView"];
export type Receiver = Schema["Receiver"];

/** What came back of a handing, in words. */
export const backWords = ({ restored, left, words }: Schema["HandedBack"]) => [`${count(restored, "record")} went back`, left > 0 ? `${left} changed since and stayed` : "", ...words].filter(Boolean).join(". ");

const at = (id: string) => ({ params: { path: { id } } });

export const useHoldings = (id: string) => useQuery({ queryKey: keys.holdings(id), queryFn: () => must(api.GET("/api/setup/people/{id}/holdings", at(id))) });

/** The open records of a kind, asked for when they are to be looked at one by one. */
export const useHeldRecords = (id: string, kind: string, isAsked: boolean) =>
  useQuery({ queryKey: keys.heldRecords(id, kind), enabled: isAsked, queryFn: () => must(api.GET("/api/setup/people/{id}/holdings/{kind}", { params: { path: { id, kind } } })) });

export const handingActs = {
  look: (id: string, body: HandingOrder) => must(api.POST("/api/setup/people/{id}/handing/look", { ...at(id), body })),
  hand: (id: string, body: HandingOrder) => must(api.POST("/api/setup/people/{id}/handing", { ...at(id), body })),
  undo: (handing: string) => must(api.POST("/api/setup/handings/{id}/undo", at(handing))),
};
