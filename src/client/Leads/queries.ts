import { useInfiniteQuery, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { api, must, type Schema } from "../api/client";
import { useSheetAct } from "../common/acting";
import { keys } from "../common/keys";
import type { Condition } from "../Conditions/conditions";
import type { View } from "./views";
import { whereOf, type Work } from "./work";

export type Sheet = Schema["LeadSheet"];

/** The worklist page by page; not asked before it is known what is to be shown. */
export const useLeadPages = (work: Work, enabled: boolean) => {
  const query = { where: JSON.stringify(whereOf(work)), order: work.order, columns: work.columns.map((c) => c.field).join(",") || undefined, group: work.group ?? undefined };
  return useInfiniteQuery({
    queryKey: keys.leads(query),
    enabled,
    initialPageParam: undefined as string | undefined,
    queryFn: ({ pageParam }) => must(api.GET("/api/leads", { params: { query: { ...query, after: pageParam } } })),
    getNextPageParam: (page) => page.next ?? undefined,
    placeholderData: (before) => before,
  });
};

/** The first leads of a condition, in the order of one field, which they show. */
export const useLeadsOf = (where: Condition, field: string, enabled: boolean) =>
  useQuery({
    queryKey: keys.leadsOf(where, field),
    enabled,
    queryFn: () => must(api.GET("/api/leads", { params: { query: { where: JSON.stringify(where), order: field, columns: field } } })),
    placeholderData: (before) => before,
  });

/** Leads counted by one or two groupings. */
export const useGroups = (where: Condition, rows: string | null, columns?: string | null, measure?: string) =>
  useQuery({
    queryKey: keys.groups(where, rows, columns, measure),
    enabled: !!rows,
    queryFn: () => must(api.GET("/api/leads/groups", { params: { query: { where: JSON.stringify(where), rows: rows!, columns: columns ?? undefined, measure } } })),
    placeholderData: (before) => before,
  });

/** How many leads a view holds. */
export const useViewCount = (view: View, enabled: boolean) =>
  useQuery({ queryKey: keys.viewCount(view.id, view.version), enabled, queryFn: () => must(api.GET("/api/views/{id}/count", { params: { path: { id: view.id } } })) });

export const useLead = (id?: string) =>
  useQuery({ queryKey: keys.lead(id), enabled: !!id, queryFn: () => must(api.GET("/api/leads/{id}", { params: { path: { id: id! } } })) });

/** Looks at a lead again whenever somebody changes it. */
export function useLive(id?: string) {
  const queries = useQueryClient();
  useEffect(() => {
    if (!id) return;
    const signs = new EventSource(`/api/leads/${id}/live`);
    signs.addEventListener("changed", () => void queries.invalidateQueries({ queryKey: keys.lead(id) }));
    return () => signs.close();
  }, [id, queries]);
}

/** Acts on a lead; see {@link useSheetAct}. */
export const useLeadAct = (id: string, place?: "toast" | "here") => useSheetAct<Sheet>(keys.lead(id), "lead", place);

export type Touch = Schema["NewTouch"];
export type StateChange = Schema["StateChange"];

const at = (id: string, version?: number) => ({ params: { path: { id } }, headers: version ? { "If-Match": `"${version}"` } : undefined });

export const leadActs = {
  edit: (lead: Sheet, facts: Record<string, string>) => must(api.PATCH("/api/leads/{id}", { ...at(lead.id, lead.version), body: { facts } })),
  touch: (id: string, body: Touch) => must(api.POST("/api/leads/{id}/touches", { ...at(id), body })),
  undoMove: (lead: Sheet) => must(api.POST("/api/leads/{id}/state/undo", at(lead.id, lead.version))),
  move: (lead: Sheet, to: StateChange) => must(api.PUT("/api/leads/{id}/state", { ...at(lead.id, lead.version), body: to })),
  sub: (lead: Sheet, subState: string | null) => must(api.PUT("/api/leads/{id}/sub-state", { ...at(lead.id, lead.version), body: { subState } })),
  qualify: (lead: Sheet, body: Schema["Answers"]) => must(api.PUT("/api/leads/{id}/qualification", { ...at(lead.id, lead.version), body })),
  give: (lead: Sheet, owner: string | null) => must(api.PUT("/api/leads/{id}/owner", { ...at(lead.id, lead.version), body: { owner } })),
  take: (lead: Sheet) => must(api.POST("/api/leads/{id}/take", at(lead.id, lead.version))),
  giveBack: (lead: Sheet, reason: string) => must(api.POST("/api/leads/{id}/give-back", { ...at(lead.id, lead.version), body: { reason } })),
};
