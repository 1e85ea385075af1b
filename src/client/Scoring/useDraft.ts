import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { api, must, TroubleError, type Schema } from "../api/client";
import { tellTrouble } from "../parts/Toast";
import type { Model } from "./model";

type Kept = { model: Model; note: string };

const pause = 500;

/**
 * The draft as it is worked on: kept on the server a moment after each change, so that nothing is lost. Who changes it while somebody else does is told, and nothing of either is
 * overwritten.
 */
export function useDraft(scoring: Schema["ScoringView"]) {
  const client = useQueryClient();
  const [kept, setKept] = useState<Kept | null>(scoring.draft ? { model: scoring.draft.shown.model, note: scoring.draft.note } : null);
  const [state, setState] = useState<"kept" | "keeping" | "stale">("kept");
  const [past, setPast] = useState<Model[]>([]);
  const version = useRef(scoring.draft?.version ?? 0);
  const waiting = useRef<{ kept: Kept; timer: ReturnType<typeof setTimeout> } | null>(null);
  const sending = useRef<Promise<void>>(Promise.resolve());

  const send = (next: Kept) => {
    sending.current = sending.current.then(async () => {
      try {
        const draft = await must(api.PUT("/api/scoring/draft", { body: next, headers: { "If-Match": `"${version.current}"` } }));
        version.current = draft.version;
        setState((s) => (s === "stale" ? s : waiting.current ? "keeping" : "kept"));
      } catch (e) {
        setState(e instanceof TroubleError && e.status === 412 ? "stale" : "keeping");
        if (!(e instanceof TroubleError && e.status === 412)) tellTrouble(e);
      }
    });
    return sending.current;
  };

  const flush = async () => {
    if (waiting.current) {
      clearTimeout(waiting.current.timer);
      const { kept: last } = waiting.current;
      waiting.current = null;
      await send(last);
    }
    await sending.current;
  };

  const keep = (next: Kept) => {
    setKept(next);
    setState("keeping");
    if (waiting.current) clearTimeout(waiting.current.timer);
    waiting.current = {
      kept: next,
      timer: setTimeout(() => {
        waiting.current = null;
        void send(next);
      }, pause),
    };
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

  const model = kept?.model ?? null;
  return {
    model,
    note: kept?.note ?? "",
    state,
    canUndo: past.length > 0,
    /** Changes the draft; the first change of the live model begins one. */
    change: (next: Model) => {
      setPast((p) => [...p.slice(-50), model ?? scoring.live.model]);
      keep({ model: next, note: kept?.note ?? "" });
    },
    setNote: (note: string) => model && keep({ model, note }),
    undo: () => {
      const last = past.at(-1);
      if (!last) return;
      setPast(past.slice(0, -1));
      keep({ model: last, note: kept?.note ?? "" });
    },
    /** Shows what is on the server in place of what is here. */
    takeTheirs: async () => {
      const fresh = await must(api.GET("/api/scoring"));
      client.setQueryData(["scoring"], fresh);
      version.current = fresh.draft?.version ?? 0;
      setKept(fresh.draft ? { model: fresh.draft.shown.model, note: fresh.draft.note } : null);
      setPast([]);
      setState("kept");
    },
    drop: async () => {
      await flush();
      await must(api.DELETE("/api/scoring/draft"));
      version.current = 0;
      setKept(null);
      setPast([]);
      setState("kept");
      await client.invalidateQueries({ queryKey: ["scoring"] });
    },
    /** Makes it live. */
    publish: async () => {
      await flush();
      const fresh = await must(api.POST("/api/scoring/publish", { headers: { "If-Match": `"${version.current}"` } }));
      version.current = 0;
      setKept(null);
      setPast([]);
      setState("kept");
      client.setQueryData(["scoring"], fresh);
      await client.invalidateQueries();
    },
    /** Reads a file into the draft; gives what could not be read. */
    read: async (text: string) => {
      await flush();
      const answer = await must(api.POST("/api/scoring/draft/file", { body: text as never, bodySerializer: (b: unknown) => String(b), headers: { "If-Match": `"${version.current}"`, "Content-Type": "application/json" } }));
      version.current = answer.draft.version;
      setPast((p) => [...p, model ?? scoring.live.model]);
      setKept({ model: answer.draft.shown.model, note: answer.draft.note });
      setState("kept");
      return answer.problems;
    },
  };
}

export type Draft = ReturnType<typeof useDraft>;
