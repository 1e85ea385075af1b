import { useEffect } from "react";
import { useInfiniteQuery, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, must, ApiError, type Schema } from "../api/client";
import { tellError } from "../parts/Toast";
import type { Condition } from "../Conditions/conditions";
import { whereOf, type Work } from "./work";

export type Sheet = Schema["LeadSheet"];

export const useViews = () => useQuery({ queryKey: ["views"], staleTime: 60_000, queryFn: () => must(api.GET("/api/views")) });

/** The worklist page by page; not asked before it is known what is to be shown. */
export const useLeadPages = (work: Work, enabled: boolean) => {
  const query = { where: JSON.stringify(whereOf(work)), order: work.order, columns: work.columns.map((c) => c.field).join(",") || undefined, group: work.group ?? undefined };
  return useInfiniteQuery({
    queryKey: ["leads", query],
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
    queryKey: ["leads", "of", where, field],
    enabled,
    queryFn: () => must(api.GET("/api/leads", { params: { query: { where: JSON.stringify(where), order: field, columns: field } } })),
    placeholderData: (before) => before,
  });

/** Leads counted by one or two groupings. */
export const useGroups = (where: Condition, rows: string | null, columns?: string | null, measure?: string) =>
  useQuery({
    queryKey: ["leads", "groups", where, rows, columns, measure],
    enabled: !!rows,
    queryFn: () => must(api.GET("/api/leads/groups", { params: { query: { where: JSON.stringify(where), rows: rows!, columns: columns ?? undefined, measure } } })),
    placeholderData: (before) => before,
  });

export const useLead = (id?: string) =>
  useQuery({ queryKey: ["lead", id], enabled: !!id, queryFn: () => must(api.GET("/api/leads/{id}", { params: { path: { id: id! } } })) });

/** Looks at a lead again whenever somebody changes it. */
export function useLive(id?: string) {
  const queries = useQueryClient();
  useEffect(() => {
    if (!id) return;
    const signs = new EventSource(`/api/leads/${id}/live`);
    signs.addEventListener("changed", () => void queries.invalidateQueries({ queryKey: ["lead", id] }));
    return () => signs.close();
  }, [id, queries]);
}

export const usePeople = () => useQuery({ queryKey: ["people"], staleTime: 300_000, queryFn: () => must(api.GET("/api/people")) });

/** Writes to a lead; the answer is the lead as it is now. A stale write shows theirs and says so, unless the caller settles that (`staleIsMine`). */
export function useLeadAct(id: string, { staleIsMine = false } = {}) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (work: () => Promise<Sheet>) => work(),
    onSuccess: (sheet) => {
      queries.setQueryData(["lead", id], sheet);
      void queries.invalidateQueries({ predicate: (q) => q.queryKey[0] !== "session" && !(q.queryKey[0] === "lead" && q.queryKey[1] === id) });
    },
    onError: (error) => {
      if (staleIsMine && error instanceof ApiError && error.status === 412) return;
      if (error instanceof ApiError && error.status === 412) void queries.invalidateQueries({ queryKey: ["lead", id] });
      if (!(error instanceof ApiError && error.field)) tellError(error);
    },
  });
}

export type Touch = Schema["NewTouch"];
export type StateChange = Schema["StateChange"];

const at = (id: string, version?: number) => ({ params: { path: { id } }, headers: version ? { "If-Match": `"${version}"` } : undefined });

export const leadActs = {
  edit: (lead: Sheet, facts: Record<string, string>) => must(api.PATCH("/api/leads/{id}", { ...at(lead.id, lead.version), body: { facts } })),
  touch: (id: string, body: Touch) => must(api.POST("/api/leads/{id}/touches", { ...at(id), body })),
  undoMove: (lead: Sheet) => must(api.POST("/api/leads/{id}/state/undo", at(lead.id, lead.version))),
  move: (lead: Sheet, to: StateChange) => must(api.PUT("/api/leads/{id}/state", { ...at(lead.id, lead.version), body: to })),
  qualify: (lead: Sheet, body: Schema["Answers"]) => must(api.PUT("/api/leads/{id}/qualification", { ...at(lead.id, lead.version), body })),
  give: (lead: Sheet, owner: string | null) => must(api.PUT("/api/leads/{id}/owner", { ...at(lead.id, lead.version), body: { owner } })),
};
