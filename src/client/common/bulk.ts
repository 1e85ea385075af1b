import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { api, must, type Schema } from "../api/client";
import { count } from "../parts/format";
import { tell } from "../parts/Toast";
import { useRefresh } from "./refresh";
import { keys } from "./keys";

export type Order = Schema["BulkOrder"];
/** The leads that are meant: some by their ids, or all of the sentence. */
export type Ticked = Set<string> | "all";

export type Edit = Schema["BulkEditView"];

/** Still worked on. */
export const isAtWork = (edit?: Edit) => edit?.state === "doing" || edit?.state === "undoing";

/** What an order would do; null while it is not said what. */
export const usePreview = (order: Order | null) =>
  useQuery({
    queryKey: keys.bulkPreview(order),
    enabled: !!order,
    queryFn: () => must(api.POST("/api/bulk-edits/preview", { body: order! })),
  });

/** The latest orders; looked at again while one is worked on. */
export const useEdits = () =>
  useQuery({
    queryKey: keys.bulkEdits,
    queryFn: () => must(api.GET("/api/bulk-edits")),
    refetchInterval: (q) => (q.state.data?.some((e) => isAtWork(e)) ? 1000 : false),
  });

export const order = (body: Order, key: string) => must(api.POST("/api/bulk-edits", { body, headers: { "Idempotency-Key": key } }));

export const takeBack = (id: string) => must(api.POST("/api/bulk-edits/{id}/undo", { params: { path: { id } } }));

/** Follows one order to its end and says how it ended, with the way back. */
export function useFollow(id: string | null, onFollow: (id: string | null) => void) {
  const refresh = useRefresh();
  const queries = useQueryClient();
  const edit = useQuery({
    queryKey: keys.bulkEdit(id),
    enabled: !!id,
    queryFn: () => must(api.GET("/api/bulk-edits/{id}", { params: { path: { id: id! } } })),
    refetchInterval: (q) => (isAtWork(q.state.data) ? 400 : false),
  });
  const now = edit.data;
  useEffect(() => {
    if (!id || now?.id !== id || isAtWork(now)) return;
    onFollow(null);
    queries.removeQueries({ queryKey: keys.bulkEdit(id) });
    void refresh(["everything"]);
    const back = () => takeBack(id).then(() => onFollow(id));
    tell(ended(now), now.state === "done" && now.changed > 0 ? back : undefined, true);
  }, [id, now, onFollow, queries, refresh]);
  return id ? now : undefined;
}

/** "12 leads changed, 3 left as they are." */
export function ended(edit: Edit) {
  if (edit.state === "undone") return edit.restored === edit.changed ? `Taken back: ${count(edit.restored, "lead")}.` : `Taken back for ${count(edit.restored, "lead")}; ${edit.changed - edit.restored} left: ${edit.left.map((l) => l.why).join("; ")}.`;
  return `${edit.words}: ${count(edit.changed, "lead")}${/^(Removed|Handed over)/.test(edit.words) ? "" : " changed"}${edit.leftAlone ? `, ${edit.leftAlone} left as they are` : ""}.`;
}
