import { useCallback, useEffect, useId, useSyncExternalStore } from "react";

// Forms with something in them that is not saved, by what they are called; on the whole page.
let open: ReadonlyMap<string, string> = new Map();
const watchers = new Set<() => void>();

function put(id: string, name: string | undefined) {
  const next = new Map(open);
  if (name === undefined) next.delete(id);
  else next.set(id, name);
  open = next;
  for (const watcher of watchers) watcher();
}

const watch = (watcher: () => void) => {
  watchers.add(watcher);
  return () => void watchers.delete(watcher);
};

/**
 * Says that a form holds something unsaved, as long as it stands on the page; leaving the page asks then. Gives what says at once, before anything is drawn, that it holds nothing any
 * more: a form that is saved may open another page in the same moment.
 */
export function useUnsaved(name: string, isUnsaved: boolean) {
  const id = useId();
  useEffect(() => {
    if (!isUnsaved) return;
    put(id, name);
    return () => put(id, undefined);
  }, [id, name, isUnsaved]);
  return useCallback(() => put(id, undefined), [id]);
}

/** What the forms with something unsaved are called. */
export const unsavedNow = () => namesOf(open);

const namesOf = (forms: ReadonlyMap<string, string>) => [...new Set(forms.values())];

/** The same, followed as it changes. */
export const useUnsavedForms = () => namesOf(useSyncExternalStore(watch, () => open));
