import { useMemo } from "react";
import { useSearchParams } from "react-router";
import { allOf, always, fromShortcuts, searching, shortcuts, type Condition } from "../Conditions/conditions";
import { useViews, type View } from "./views";


export type Column = { field: string; width?: number | null };

/** What the worklist shows: a view, with what was changed about it since. */
export type Work = {
  view?: View;
  where: Condition;
  order: string;
  columns: Column[];
  group: string | null;
  dense: boolean;
  text: string;
  show: "rows" | "counts" | "month";
  /** True when something differs from the view. */
  changed: boolean;
};

const usual: Column[] = ["next_move", "source", "interest", "owner", "state", "clock_due_at"].map((field) => ({ field }));

const readColumns = (text: string): Column[] =>
  text.split(",").filter(Boolean).map((part) => {
    const [field, width] = part.split(":");
    return { field: field!, width: Number(width) || null };
  });

export const writeColumns = (columns: Column[]) => columns.map((c) => (c.width ? `${c.field}:${c.width}` : c.field)).join(",");

function readWhere(json: string): Condition | null {
  try {
    return JSON.parse(json) as Condition;
  } catch {
    return null;
  }
}

export function readWork(params: URLSearchParams, views: View[]): Work {
  const text = params.get("text") ?? "";
  const linked = shortcuts.some((k) => params.has(k)) || (!!text && !params.has("view"));
  const asked = views.find((v) => v.id === params.get("view"));
  const view = asked ?? (linked || params.has("where") ? undefined : views[0]);
  const body = view?.body;
  const own = params.has("where") ? readWhere(params.get("where")!) : linked ? fromShortcuts(params) : null;
  const group = params.get("group");
  return {
    view,
    where: own ?? (body?.where as Condition | undefined) ?? always,
    order: params.get("order") ?? body?.order ?? "-created_at",
    columns: params.has("columns") ? readColumns(params.get("columns")!) : (body?.columns ?? usual),
    group: group === "none" ? null : (group ?? body?.group ?? null),
    dense: params.has("dense") ? params.get("dense") === "1" : (body?.dense ?? false),
    text,
    show: params.get("show") === "counts" ? "counts" : params.get("show") === "month" ? "month" : "rows",
    changed: !!view && ["where", "order", "columns", "group", "dense"].some((k) => params.has(k)),
  };
}

/** The condition for the server: the view's, and what is searched for. */
export const whereOf = (work: Work): Condition => (work.text ? allOf([work.where, ...searching(work.text)]) : work.where);

/** The worklist as the address bar has it, and how to change it. */
export function useWork() {
  const [params, setParams] = useSearchParams();
  const views = useViews();
  const work = useMemo(() => readWork(params, views.data ?? []), [params, views.data]);
  const set = (changes: Record<string, string | null>) => {
    const next = new URLSearchParams(params);
    // What was meant by short words is said by the condition from now on.
    if ("where" in changes) for (const key of shortcuts) next.delete(key);
    if (!next.has("view") && work.view && !("view" in changes)) next.set("view", work.view.id);
    for (const [key, value] of Object.entries(changes))
      if (value === null) next.delete(key);
      else next.set(key, value);
    setParams(next, { replace: true });
  };
  const setWhere = (where: Condition | null) => set({ where: JSON.stringify(where ?? always) });
  const open = (view: View) => setParams({ view: view.id });
  return { work, views: views.data ?? [], ready: !views.isPending, params, set, setWhere, open };
}
