import { useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { isStale, type Change } from "./keys";

/** Asks again what such changes made stale, once the caller names them; what nobody looks at is asked when it is looked at. `but` keeps the answer the caller has just put there. */
export function useRefresh() {
  const queries = useQueryClient();
  return useCallback(
    (changes: readonly Change[], but?: readonly unknown[]) =>
      queries.invalidateQueries({ predicate: ({ queryKey }) => isStale(queryKey, changes) && !(but && but.every((part, i) => queryKey[i] === part) && but.length === queryKey.length) }),
    [queries],
  );
}
