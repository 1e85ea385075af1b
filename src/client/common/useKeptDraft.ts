import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { ApiError } from "../api/client";
import { tellError } from "../parts/Toast";
import { useRefresh } from "./refresh";

type Kept<T> = { body: T; note: string };

/** A draft as the server has it. */
export type OnServer<T> = Kept<T> & { version: number };

/** How drafts of one kind are kept: each takes the version it changes, and answers with the draft or the view as it is then. */
export type DraftDoor<T, View> = {
  /** The key of the question that shows it. */
  key: readonly unknown[];
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

// Steps that can be undone.
const mostPast = 50;

// Nobody's fault but the line's or the server's: it is worth another try.
const passes = (e: unknown) => !(e instanceof ApiError) || e.status === 0 || e.status >= 500;

const isStale = (e: unknown) => e instanceof ApiError && e.status === 412;

type State = "kept" | "keeping" | "stale";

/** Does it when the page or the window is left. */
function useAtLeaving(work: () => void) {
  const last = useRef(work);
  useEffect(() => void (last.current = work));
  useEffect(() => {
    const leave = () => last.current();
    addEventListener("pagehide", leave);
    return () => {
      removeEventListener("pagehide", leave);
      leave();
    };
  }, []);
}

/** Keeps the last of several things that come shortly after each other, and hands it on once none comes for so many milliseconds. */
function useWaiting<K>() {
  const waiting = useRef<{ last: K; timer: ReturnType<typeof setTimeout> } | null>(null);
  const take = () => {
    const last = waiting.current?.last;
    if (waiting.current) clearTimeout(waiting.current.timer);
    waiting.current = null;
    return last;
  };
  return {
    wait: (last: K, ms: number, handOn: (last: K) => unknown) => {
      take();
      const timer = setTimeout(() => {
        waiting.current = null;
        handOn(last);
      }, ms);
      waiting.current = { last, timer };
    },
    /** What waits, which then does no more; undefined where nothing does. */
    take,
    isWaiting: () => waiting.current !== null,
  };
}

/**
 * Sends what changes a moment after it does, one after the other, and tries again what failed by no fault of its own. What was changed in the last moment before the page is left is
 * sent as well.
 */
function useKeeping<T, View>(door: DraftDoor<T, View>, setState: (next: (s: State) => State) => void) {
  const version = useRef(door.draft?.version ?? 0);
  const { wait, take, isWaiting } = useWaiting<Kept<T>>();
  const sending = useRef(Promise.resolve(true));
  const failing = useRef(false);
  const asked = () => `"${version.current}"`;

  // Gives whether it is kept.
  const send = (next: Kept<T>) => {
    sending.current = sending.current.then(async () => {
      try {
        version.current = (await door.keep(next, asked())).version;
        failing.current = false;
        setState((s) => (s === "stale" ? s : isWaiting() ? "keeping" : "kept"));
      } catch (e) {
        setState(() => (isStale(e) ? "stale" : "keeping"));
        // Told once, however often it is tried again.
        if (!isStale(e) && !failing.current) tellError(e);
        failing.current = passes(e);
        if (failing.current && !isWaiting()) wait(next, untilAgain, send);
        return false;
      }
      return true;
    });
    return sending.current;
  };

  const flush = () => {
    const last = take();
    return last ? send(last) : sending.current;
  };

  useAtLeaving(flush);

  return {
    /** The version that is changed, as a request names it. */
    asked,
    keep: (next: Kept<T>) => wait(next, pause, send),
    /** Sends now what waits; gives whether it is kept. */
    flush,
    /** Begins again from what the server has. */
    start: (fresh: OnServer<T> | null) => {
      take();
      sending.current = sending.current.then(() => true);
      version.current = fresh?.version ?? 0;
    },
  };
}

/** What is here of a draft: what it says, how it stands with the server, and what it said before each change. */
function useHeld<T, View>(door: DraftDoor<T, View>) {
  const [kept, setKept] = useState<Kept<T> | null>(door.draft && { body: door.draft.body, note: door.draft.note });
  const [state, setState] = useState<State>("kept");
  const [past, setPast] = useState<T[]>([]);
  const keeping = useKeeping(door, setState);
  const body = kept?.body ?? null;
  const keep = (next: Kept<T>) => {
    setKept(next);
    setState("keeping");
    keeping.keep(next);
  };
  const settle = (fresh: OnServer<T> | null) => {
    keeping.start(fresh);
    setKept(fresh && { body: fresh.body, note: fresh.note });
    setState("kept");
  };
  return {
    kept,
    state,
    past,
    keep,
    keeping,
    remember: () => setPast((p) => [...p.slice(-mostPast), body ?? door.live]),
    stepBack: () => setPast(past.slice(0, -1)),
    settle,
    /** As {@link settle}, and nothing before it can be gone back to. */
    begin: (fresh: OnServer<T> | null) => {
      settle(fresh);
      setPast([]);
    },
  };
}

/**
 * A draft as it is worked on: kept on the server a moment after each change, so that nothing is lost. Two people who change it at once are told, and nothing of either is overwritten.
 */
export function useKeptDraft<T, View>(door: DraftDoor<T, View>) {
  const client = useQueryClient();
  const refresh = useRefresh();
  const { kept, state, past, keep, keeping, remember, stepBack, settle, begin } = useHeld(door);
  const again = () => client.invalidateQueries({ queryKey: door.key });
  // It is live now; what else is shown comes after, however long that takes.
  const show = (fresh: View) => {
    client.setQueryData(door.key, fresh);
    void refresh(["everything"]);
  };
  return {
    body: kept?.body ?? null,
    note: kept?.note ?? "",
    state,
    canUndo: past.length > 0,
    /** Changes the draft; the first change of what is live begins one. */
    change: (next: T) => {
      remember();
      keep({ body: next, note: kept?.note ?? "" });
    },
    setNote: (note: string) => kept !== null && keep({ body: kept.body, note }),
    undo: () => {
      const last = past.at(-1);
      if (last === undefined) return;
      stepBack();
      keep({ body: last, note: kept?.note ?? "" });
    },
    /** Shows what is on the server in place of what is here. */
    takeTheirs: async () => {
      const fresh = await door.fetch();
      client.setQueryData(door.key, fresh);
      begin(door.draftOf(fresh));
    },
    drop: async () => {
      await keeping.flush();
      await door.drop();
      begin(null);
      await again();
    },
    /** Makes it live. */
    publish: async () => {
      if (!(await keeping.flush())) throw new ApiError("What was changed last is not kept yet, so nothing went live. Try again.", 0, "not-kept");
      const fresh = await door.publish(keeping.asked());
      begin(null);
      show(fresh);
    },
    /** Makes an old edition live again; the draft stays as it is. */
    back: async (number: number) => show(await door.back(number)),
    /** Puts in its place what a file holds; gives what could not be read. */
    read: async <P,>(ask: (version: string) => Promise<{ draft: OnServer<T>; problems: P }>) => {
      await keeping.flush();
      const answer = await ask(keeping.asked());
      remember();
      settle(answer.draft);
      await again();
      return answer.problems;
    },
  };
}
