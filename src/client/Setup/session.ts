import { useQuery, useQueryClient } from "@tanstack/react-query";
import { createContext, useContext } from "react";
import { api, must, setToken, type Schema, ApiError } from "../api/client";

export type Session = Schema["SessionView"];
export type Act = Session["may"][number];

/** The signed-in person; null when nobody is, undefined while asking. */
export function useSessionQuery() {
  return useQuery({
    queryKey: ["session"],
    staleTime: Infinity,
    queryFn: async () => {
      try {
        const session = await must(api.GET("/api/session"));
        setToken(session.token);
        return session;
      } catch (e) {
        if (e instanceof ApiError && e.status === 401) return null;
        throw e;
      }
    },
  });
}

export const SessionContext = createContext<Session | null>(null);

/** The signed-in person; only under the frame. */
export function useSession(): Session {
  const session = useContext(SessionContext);
  if (!session) throw new Error("no session");
  return session;
}

/** May the signed-in person do this? The server decides again. */
export const useMay = (act: Act) => useSession().may.includes(act);

/** After any act: what waits, and everything shown, may have changed. */
export function useRefresh() {
  const queries = useQueryClient();
  return () => queries.invalidateQueries({ predicate: (q) => q.queryKey[0] !== "session" });
}
