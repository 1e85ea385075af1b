import { useQuery } from "@tanstack/react-query";
import { api, must, type Schema } from "../api/client";
import { keys } from "../common/keys";

export type View = Schema["ViewView"];

/** The views of the worklist that the person sees. */
export const useViews = () => useQuery({ queryKey: keys.views, staleTime: 60_000, queryFn: () => must(api.GET("/api/views")) });

const at = (view: View) => ({ params: { path: { id: view.id } } });

export const viewActs = {
  add: (body: Schema["ViewWrite"]) => must(api.POST("/api/views", { body })),
  put: (view: View, body: Schema["ViewWrite"], version?: number) => must(api.PUT("/api/views/{id}", { ...at(view), headers: version ? { "If-Match": `"${version}"` } : undefined, body })),
  drop: (view: View) => must(api.DELETE("/api/views/{id}", at(view))),
};
