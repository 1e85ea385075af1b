import { useState } from "react";
import { useAct } from "./acting";
import { useDraft } from "./draft";
import type { Change } from "./keys";
import { useUnsaved } from "./unsaved";

type Asked<T> = {
  /** What the form is called where the page asks about it: "the note", "your task". */
  called: string;
  /** Names the record and the form, so that what is typed is kept; without it the form keeps nothing when it is left. */
  name?: string;
  initial: T;
  /** False for choices that nobody would miss: neither closing the form nor leaving the page asks then. */
  asks?: boolean;
};

type Sending<T, A> = { changes: readonly Change[]; but?: readonly unknown[]; words?: string | ((answer: A) => string | undefined); back?: (answer: A) => Promise<unknown>; then?: (answer: A, values: T) => void; stays?: boolean; refused?: (error: unknown) => boolean };

/**
 * One form: its values, kept as a draft until they are sent or thrown away by word; what is wrong beside its field; busy while it is sent. Drawn with {@link FormBox}.
 */
export function useForm<T extends object>({ called, name, initial, asks = true }: Asked<T>) {
  const draft = useDraft(name, initial);
  const act = useAct("here");
  const [tried, setTried] = useState(false);
  const isChanged = asks && draft.isChanged;
  const settled = useUnsaved(called, isChanged);
  const fields = Object.keys(initial);
  return {
    called,
    values: draft.values,
    set: draft.set,
    /** Whether something in it would be missed. */
    isChanged,
    /** When what is in it was typed, where it was taken up from before; in milliseconds. */
    since: draft.since,
    isKept: !!name,
    busy: act.busy,
    said: act.said,
    whole: act.whole(...fields),
    /** True once it was sent, whatever came of it: from then on what is missing is said. */
    tried,
    /** What a part for one field needs. */
    bind: <K extends keyof T & string>(field: K) => ({ value: draft.values[field], onChange: (value: T[K]) => draft.set({ [field]: value } as unknown as Partial<T>), error: act.said(field) }),
    forget: () => {
      settled();
      draft.forget();
      act.forget();
      setTried(false);
    },
    /** Sends it; what was typed is forgotten when it was taken. Gives whether it was. */
    send: async <A>(work: (values: T) => Promise<A>, { then, stays, ...way }: Sending<T, A>) => {
      setTried(true);
      const values = draft.values;
      return act.run(() => work(values), {
        ...way,
        then: (answer) => {
          if (!stays) {
            settled();
            draft.forget();
          }
          setTried(false);
          then?.(answer, values);
        },
      });
    },
  };
}

export type FormState = Pick<ReturnType<typeof useForm<object>>, "called" | "isChanged" | "since" | "isKept" | "busy" | "whole" | "forget">;
