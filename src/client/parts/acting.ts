import { useState } from "react";
import { ApiError } from "../api/client";
import { useRefresh } from "../Setup/session";
import { tell, tellError } from "./Toast";

/** Does something, shows everything anew and offers the way back. What went wrong is told; then it gives false. */
export function useUndoable() {
  const refresh = useRefresh();
  return async (work: () => Promise<unknown>, words: string, back: () => Promise<unknown>) => {
    try {
      await work();
      await refresh();
      tell(words, () => back().then(refresh));
      return true;
    } catch (e) {
      tellError(e);
      await refresh();
      return false;
    }
  };
}

/** Does something, says so and shows everything anew. What went wrong is told; then it gives false. */
export function useActing() {
  const refresh = useRefresh();
  return async (work: () => Promise<unknown>, words?: string) => {
    try {
      await work();
      if (words) tell(words);
      return true;
    } catch (e) {
      tellError(e);
      return false;
    } finally {
      await refresh();
    }
  };
}

/** A form that is sent: busy meanwhile, and what is wrong said next to its field, or under the form where it concerns none. */
export function useSending() {
  const [busy, setBusy] = useState(false);
  const [trouble, setError] = useState<ApiError>();
  const send = async (work: () => Promise<unknown>) => {
    setBusy(true);
    setError(undefined);
    try {
      await work();
    } catch (e) {
      if (e instanceof ApiError) setError(e);
      else throw e;
    } finally {
      setBusy(false);
    }
  };
  return { busy, send, said: (field: string) => (trouble?.field === field ? trouble.message : undefined), whole: trouble && !trouble.field ? trouble.message : undefined };
}
