import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ApiError } from "../api/client";
import { useRefresh } from "./refresh";
import { useKeeping, type KeepState } from "./useKeeping";

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

// Steps that can be undone.
const mostPast = 50;

/** What is here of a draft: what it says, how it stands with the server, and what it said before each change. */
function useHeld<T, View>(door: DraftDoor<T, View>) {
  const [kept, setKept] = useState<Kept<T> | null>(door.draft && { body: door.draft.body, note: door.draft.note });
  const [state, setState] = useState<KeepState>("kept");
  const [past, setPast] = useState<T[]>([]);
  const keeping = useKeeping<Kept<T>>(door.draft?.version ?? 0, door.keep, setState);
  const body = kept?.body ?? null;
  const keep = (next: Kept<T>) => {
    setKept(next);
    setState("keeping");
    keeping.keep(next);
  };
  const settle = (fresh: OnServer<T> | null) => {
    keeping.start(fresh?.version ?? 0);
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
