import { useEffect, useRef } from "react";
import { ApiError } from "../api/client";
import { tellError } from "../parts/Toast";

/** How what is written stands with the server; stale once somebody else changed it there. */
export type KeepState = "kept" | "keeping" | "stale";

const pause = 500;

const untilAgain = 5_000;

// Nobody's fault but the line's or the server's: it is worth another try.
const passes = (e: unknown) => !(e instanceof ApiError) || e.status === 0 || e.status >= 500;

const isStale = (e: unknown) => e instanceof ApiError && e.status === 412;

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
 * sent as well. `send` takes the version that is changed, as a request names it, and gives the version it is then.
 */
export function useKeeping<K>(first: number, send: (next: K, version: string) => Promise<{ version: number }>, setState: (next: (s: KeepState) => KeepState) => void) {
  const version = useRef(first);
  const { wait, take, isWaiting } = useWaiting<K>();
  const sending = useRef(Promise.resolve(true));
  const failing = useRef(false);
  const asked = () => `"${version.current}"`;

  // Gives whether it is kept.
  const hand = (next: K) => {
    sending.current = sending.current.then(async () => {
      try {
        version.current = (await send(next, asked())).version;
        failing.current = false;
        setState((s) => (s === "stale" ? s : isWaiting() ? "keeping" : "kept"));
      } catch (e) {
        setState(() => (isStale(e) ? "stale" : "keeping"));
        // Told once, however often it is tried again.
        if (!isStale(e) && !failing.current) tellError(e);
        failing.current = passes(e);
        if (failing.current && !isWaiting()) wait(next, untilAgain, hand);
        return false;
      }
      return true;
    });
    return sending.current;
  };

  const flush = () => {
    const last = take();
    return last ? hand(last) : sending.current;
  };

  useAtLeaving(flush);

  return {
    asked,
    keep: (next: K) => wait(next, pause, hand),
    /** Sends now what waits; gives whether it is kept. */
    flush,
    /** Begins again from a version of the server. */
    start: (fresh: number) => {
      take();
      sending.current = sending.current.then(() => true);
      version.current = fresh;
    },
  };
}
