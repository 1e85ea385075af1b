import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useRef, useState } from "react";
import { ApiError } from "../api/client";
import { tell, tellError } from "../parts/Toast";
import type { Change } from "./keys";
import { useRefresh } from "./refresh";

type Way<T, U> = {
  /** What the act changes: asked again after it, and after its undo. */
  changes: readonly Change[];
  /** A question whose answer the act has put in place itself. */
  but?: readonly unknown[];
  /** Said once it is done. */
  words?: string | ((answer: T) => string | undefined);
  /** The way back, offered beside the words and by Ctrl+Z. */
  back?: (answer: T) => Promise<U>;
  /** Said once it is undone, where that is more than that it is undone; undefined where the undo goes on and says itself how it ended. */
  backWords?: (undone: U) => string | undefined;
  /** Goes on where the act is done, before anything is asked again. */
  then?: (answer: T) => void;
  /** Settles a refusal by itself; gives true when nothing more is to be said of it. */
  refused?: (error: unknown) => boolean;
};

/**
 * Does acts, one at a time: busy meanwhile, said when done, with the way back, and what it changed is asked again. What goes wrong is told in a toast, or, with `here`, stands next to
 * its field (`said`) or under the form (`whole`). Gives whether it was done. A second press while one is busy does nothing.
 */
export function useAct(place: "toast" | "here" = "toast") {
  const refresh = useRefresh();
  const [busy, setBusy] = useState(false);
  const [trouble, setTrouble] = useState<Error>();
  const running = useRef(false);
  const run = useCallback(
    async <T, U = unknown>(work: () => Promise<T>, { changes, but, words, back, backWords, then, refused }: Way<T, U>): Promise<boolean> => {
      if (running.current) return false;
      running.current = true;
      setBusy(true);
      setTrouble(undefined);
      try {
        const answer = await work();
        then?.(answer);
        const said = typeof words === "function" ? words(answer) : words;
        const undo = async () => {
          try {
            const undone = await back!(answer);
            const told = backWords?.(undone);
            if (told) tell(told);
          } finally {
            void refresh(changes);
          }
        };
        if (said) tell(said, back && undo, !!backWords);
        await refresh(changes, but);
        return true;
      } catch (e) {
        if (!refused?.(e)) {
          if (place === "here" && !(e instanceof ApiError && e.status === 412)) setTrouble(e as Error);
          else tellError(e);
        }
        // Somebody else may have changed it: that is why it was refused, and what is shown must say so.
        if (e instanceof ApiError && !e.away) void refresh(changes);
        return false;
      } finally {
        running.current = false;
        setBusy(false);
      }
    },
    [refresh, place],
  );
  const field = trouble instanceof ApiError ? trouble.field : undefined;
  return {
    run,
    busy,
    /** What was wrong with a field. */
    said: (name: string) => (field === name ? trouble!.message : undefined),
    /** What was wrong with the whole, or with a field that none of these names is. */
    whole: (...fields: string[]) => (trouble && (!field || (fields.length > 0 && !fields.includes(field))) ? trouble.message : undefined),
    /** What was wrong, wherever it belongs. */
    any: trouble?.message,
    forget: () => setTrouble(undefined),
  };
}

type SheetWay<S> = Omit<Way<S, S>, "changes" | "but"> & {
  /** What it changes, where that is not what such an act usually does. */
  changes?: readonly Change[];
};

/** Acts on a record whose answer is the record as it is then: it is shown at once, and only what else the act changes is asked again. */
export function useSheetAct<S>(key: readonly unknown[], usual: Change, place: "toast" | "here" = "toast") {
  const queries = useQueryClient();
  const { run, ...act } = useAct(place);
  const show = (sheet: S) => {
    queries.setQueryData(key, sheet);
    return sheet;
  };
  return {
    ...act,
    show,
    run: (work: () => Promise<S>, { changes = [usual], back, ...way }: SheetWay<S> = {}) => run(() => work().then(show), { ...way, changes, but: key, back: back && ((now) => back(now).then(show)) }),
  };
}
