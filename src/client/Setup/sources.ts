import { useQuery } from "@tanstack/react-query";
import { api, must, type Schema } from "../api/client";
import { keys } from "../common/keys";

type Source = Schema["ManagedSource"];
type Change = Schema["SourceChange"];

export const useSources = () => useQuery({ queryKey: keys.sources, queryFn: () => must(api.GET("/api/sources")) });

export const trusts = [
  { key: "1", label: "more than others" },
  { key: "0", label: "as others" },
  { key: "-1", label: "less than others" },
];

/** What arrivals from a source may count as; a form that the model does not name is among them where it is so. */
export const kindsOf = (view: Schema["SourcesView"], source: Source) =>
  view.eventKinds.some((k) => k.key === source.eventKind) ? view.eventKinds : [{ key: source.eventKind, label: "A form not in the scoring model" }, ...view.eventKinds];

const at = (key: string) => ({ params: { path: { key } } });

export const sourceActs = {
  /** Changes some of a source; the rest stays. */
  change: ({ key, name, eventKind, campaign, retired, trust }: Source, more: Partial<Change>) => must(api.PUT("/api/sources/{key}", { ...at(key), body: { name, eventKind, campaign, retired, trust, ...more } })),
  order: (order: string[]) => must(api.PUT("/api/sources/order", { body: { keys: order } })),
  merge: (key: string, into: string) => must(api.POST("/api/sources/{key}/merge", { ...at(key), body: { into } })),
  undo: (id: string) => must(api.POST("/api/sources/merges/{id}/undo", { params: { path: { id } } })),
};
