import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { ApiError } from "../api/client";
import { isStale as isStaleAfter } from "./keys";
import { tellError } from "../parts/Toast";

type Kept<T> = { body: T; note: string };

/** A draft as the server has it. */
export type OnServer<T> = Kept<T> & { version: number };

/** How drafts of one kind are kept: each takes the version it changes, and answers with the draft or the view as it is then. */
export type DraftDoor<T, View> = {
  key: string;
  live: T;
  draft: OnServer<T> | null;
  draftOf: (view: View) => OnServer<T> | null;
  fetch: () => Promise<View>;
  keep: (next: Kept<T>, version: string) => Promise<{ version: number }>;
  drop: () => Promise<unknown>;
  publish: (version: string) => Promise<View>;
  /** Makes an old edition live again. */
  back: (number: number) => Promise<View>;
};

const pause = 500;

const untilAgain = 5_000;

// Nobody's fault but the line's or the server's: it is worth another try.
const passes = (e: unknown) => !(e instanceof ApiError) || e.status === 0 || e.status >= 500;

const isStale = (e: unknown) => e instanceof ApiError && e.status === 412;

/**
 * A draft as it is worked on: kept on the server a moment after each change, so that nothing is lost. Who changes it while somebody else does is told, and nothing of either is
 * overwritten.
 */
export function useKeptDraft<T, View>(door: DraftDoor<T, View>) {
  const client = useQueryClient();
  const [kept, setKept] = useState<Kept<T> | null>(door.draft && { body: door.draft.body, note: door.draft.note });
  const [state, setState] = useState<"kept" | "keeping" | "stale">("kept");
  const [past, setPast] = useState<T[]>([]);
  const version = useRef(door.draft?.version ?? 0);
  const waiting = useRef<{ kept: Kept<T>; timer: ReturnType<typeof setTimeout> } | null>(null);
  const sending = useRef(Promise.resolve(true));
  const failing = useRef(false);
  const asked = () => `"${version.current}"`;

  const wait = (next: Kept<T>, ms: number) => {
    forget();
    waiting.current = {
      kept: next,
      timer: setTimeout(() => {
        waiting.current = null;
        void send(next);
      }, ms),
    };
  };

  const forget = () => {
    if (waiting.current) clearTimeout(waiting.current.timer);
    waiting.current = null;
  };

  const failed = (e: unknown, next: Kept<T>) => {
    setState(isStale(e) ? "stale" : "keeping");
    // Told once, however often it is tried again.
    if (!isStale(e) && !failing.current) tellError(e);
    failing.current = passes(e);
    if (failing.current && !waiting.current) wait(next, untilAgain);
    return false;
  };

  // Gives whether it is kept.
  const send = (next: Kept<T>) => {
    sending.current = sending.current.then(async () => {
      try {
        version.current = (await door.keep(next, asked())).version;
        failing.current = false;
        setState((s) => (s === "stale" ? s : waiting.current ? "keeping" : "kept"));
        return true;
      } catch (e) {
        return failed(e, next);
      }
    });
    return sending.current;
  };

  const flush = () => {
    const last = waiting.current?.kept;
    forget();
    return last ? send(last) : sending.current;
  };

  const keep = (next: Kept<T>) => {
    setKept(next);
    setState("keeping");
    wait(next, pause);
  };

  // What was changed in the last moment before leaving is kept as well.
  const flushed = useRef(flush);
  useEffect(() => void (flushed.current = flush));
  useEffect(() => {
    const leave = () => void flushed.current();
    addEventListener("pagehide", leave);
    return () => {
      removeEventListener("pagehide", leave);
      leave();
    };
  }, []);

  const settle = (fresh: OnServer<T> | null) => {
    forget();
    sending.current = sending.current.then(() => true);
    version.current = fresh?.version ?? 0;
    setKept(fresh && { body: fresh.body, note: fresh.note });
    setState("kept");
  };

  // It is live now; what else is shown comes after, however long that takes.
  const show = (fresh: View) => {
    client.setQueryData([door.key], fresh);
    void client.invalidateQueries({ predicate: (q) => isStaleAfter(q.queryKey, ["everything"]) });
  };

  const body = kept?.body ?? null;
  return {
    body,
    note: kept?.note ?? "",
    state,
    canUndo: past.length > 0,
    /** Changes the draft; the first change of what is live begins one. */
    change: (next: T) => {
      setPast((p) => [...p.slice(-50), body ?? door.live]);
      keep({ body: next, note: kept?.note ?? "" });
    },
    setNote: (note: string) => body !== null && keep({ body, note }),
    undo: () => {
      const last = past.at(-1);
      if (last === undefined) return;
      setPast(past.slice(0, -1));
      keep({ body: last, note: kept?.note ?? "" });
    },
    /** Shows what is on the server in place of what is here. */
    takeTheirs: async () => {
      const fresh = await door.fetch();
      client.setQueryData([door.key], fresh);
      settle(door.draftOf(fresh));
      setPast([]);
    },
    drop: async () => {
      await flush();
      await door.drop();
      settle(null);
      setPast([]);
      await client.invalidateQueries({ queryKey: [door.key] });
    },
    /** Makes it live. */
    publish: async () => {
      if (!(await flush())) throw new ApiError("What was changed last is not kept yet, so nothing went live. Try again.", 0, "not-kept");
      const fresh = await door.publish(asked());
      settle(null);
      setPast([]);
      show(fresh);
    },
    /** Makes an old edition live again; the draft stays as it is. */
    back: async (number: number) => show(await door.back(number)),
    /** Puts in its place what a file holds; gives what could not be read. */
    read: async <P,>(ask: (version: string) => Promise<{ draft: OnServer<T>; problems: P }>) => {
      await flush();
      const answer = await ask(asked());
      setPast((p) => [...p, body ?? door.live]);
      settle(answer.draft);
      await client.invalidateQueries({ queryKey: [door.key] });
      return answer.problems;
    },
  };
}
