import { useQuery } from "@tanstack/react-query";
import { api, must, type Schema } from "../api/client";
import { keys } from "../common/keys";

export type KeptLists = Schema["KeptListsView"];
export type KeptList = KeptLists["lists"][number];
export type KeptValue = KeptList["values"][number];
export type ValueMerge = KeptLists["merges"][number];

export const useKeptLists = () => useQuery({ queryKey: keys.keptLists, queryFn: () => must(api.GET("/api/setup/lists")) });

/** How many records have each value, by list and key. */
export const useValueUses = () => useQuery({ queryKey: keys.valueUses, queryFn: () => must(api.GET("/api/setup/lists/uses")) });

const at = (list: string, key: string) => ({ params: { path: { list, key } } });

export const listActs = {
  add: (list: string, label: string, of: string | null) => must(api.POST("/api/lists/{list}", { params: { path: { list } }, body: { label, of } })),
  change: (list: string, key: string, body: Schema["ValueChange"]) => must(api.PATCH("/api/setup/lists/{list}/{key}", { ...at(list, key), body })),
  order: (list: string, order: string[]) => must(api.PUT("/api/setup/lists/{list}/order", { params: { path: { list } }, body: { keys: order } })),
  remove: (list: string, key: string) => must(api.DELETE("/api/setup/lists/{list}/{key}", at(list, key))),
  merge: (list: string, key: string, into: string) => must(api.POST("/api/setup/lists/{list}/{key}/merge", { ...at(list, key), body: { into } })),
  undo: (id: string) => must(api.POST("/api/setup/lists/merges/{id}/undo", { params: { path: { id } } })),
};
