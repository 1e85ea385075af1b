import { useQuery } from "@tanstack/react-query";
import { createContext, useContext } from "react";
import { api, must, setToken, type Schema, ApiError } from "../api/client";
import { keys } from "./keys";

export type Session = Schema["SessionView"];
export type Act = Session["may"][number];

/** The signed-in person; null when nobody is, undefined while asking. */
export function useSessionQuery() {
  return useQuery({
    queryKey: keys.session,
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

/** The same where nobody may be signed in yet. */
export const useMaybeSession = () => useContext(SessionContext);

/** May the signed-in person do this? The server decides again. */
export const useMay = (act: Act) => useSession().may.includes(act);

/** Whether the signed-in person works a record with this owner: everybody's, or only their own. */
export function useWorks(act: Act) {
  const { id, may, ownOnly } = useSession();
  return (owner: string | null | undefined) => may.includes(act) && (!ownOnly || owner === id);
}
