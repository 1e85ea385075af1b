import { notifyManager, QueryClient, useQueryClient } from "@tanstack/react-query";
import { useCallback, useSyncExternalStore } from "react";
import styled from "styled-components";
import { ApiError } from "../api/client";

/** True for a trouble that is over when the server or its database is back. */
export const isAway = (error: unknown) => error instanceof ApiError && error.away;

const longest = 10_000;

/** Milliseconds until the next try, the first being number 0: as the server says, or growing from one second to ten. */
const pause = (tries: number, error: unknown) => ((error as ApiError).after ?? 0) * 1000 || Math.min(1000 * 2 ** tries, longest);

/** Questions to the server. One that finds it away is asked again until it is answered; a refusal stands. */
export const makeQueries = () =>
  new QueryClient({
    defaultOptions: {
      queries: { staleTime: 10_000, retry: (tries, error) => isAway(error) || (!(error instanceof ApiError) && tries < 2), retryDelay: pause },
    },
  });

const Strip = styled.div`
  position: fixed;
  inset: auto 0 0;
  z-index: 60;
  padding: 7px 20px;
  border-top: 2px solid var(--bad);
  background: var(--bad-wash);
  font-size: 14px;
`;

/** Says that the server is away, as long as a question waits for it. */
export function Away() {
  const queries = useQueryClient().getQueryCache();
  const listen = useCallback((heard: () => void) => queries.subscribe(notifyManager.batchCalls(heard)), [queries]);
  const waits = useSyncExternalStore(listen, () => queries.getAll().some((q) => q.state.fetchStatus !== "idle" && isAway(q.state.fetchFailureReason)));
  return <div role="status">{waits && <Strip>The server does not answer, or its database is away. This page asks again by itself; what you wrote is still here.</Strip>}</div>;
}
