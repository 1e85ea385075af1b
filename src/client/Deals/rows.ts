import { keepPreviousData, useQueries, useQuery } from "@tanstack/react-query";
import { api, must, type Schema } from "../api/client";
import { keys } from "../common/keys";

/** Which deals a list holds. */
export type DealList = { pipeline?: string; closed: boolean; stage?: string };

/** Rows that are read at a time. */
export const piece = 100;

const rowsFrom = (list: DealList, at: number) => ({
  queryKey: keys.dealRows(list.pipeline, list.closed, list.stage, at),
  queryFn: () => must(api.GET("/api/deals/rows", { params: { query: { ...list, from: at * piece, most: piece } } })),
});

/** The first rows, and how many there are. */
export const useFirstRows = (list: DealList, enabled = true) => useQuery({ ...rowsFrom(list, 0), enabled, placeholderData: keepPreviousData });

/** The rows from one on, as far as they are read; what is not read yet is undefined. */
export function useRows(list: DealList, from: number, to: number): (Schema["DealItem"] | undefined)[] {
  const first = Math.floor(from / piece);
  const pieces = Array.from({ length: Math.max(0, Math.floor(Math.max(from, to - 1) / piece) - first + 1) }, (_, i) => first + i);
  const read = useQueries({ queries: pieces.map((at) => rowsFrom(list, at)) });
  return Array.from({ length: Math.max(0, to - from) }, (_, i) => {
    const at = Math.floor((from + i) / piece);
    return read[at - first]?.data?.deals[from + i - at * piece];
  });
}
