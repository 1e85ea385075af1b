import { useEffect, useId, useSyncExternalStore } from "react";

// Boxes on the page in which something stands that was not taken over: a date nobody can read, a name that is not added.
const unread = new Set<string>();
const watchers = new Set<() => void>();

function mark(box: string, is: boolean) {
  if (is) unread.add(box);
  else unread.delete(box);
  for (const watcher of watchers) watcher();
}

const watch = (watcher: () => void) => {
  watchers.add(watcher);
  return () => void watchers.delete(watcher);
};

/** Says that what stands in a box is not its value: acts that take the value wait, or it would be left out without a word. */
export function useUnread(isUnread: boolean) {
  const id = useId();
  useEffect(() => {
    mark(id, isUnread);
    return () => mark(id, false);
  }, [id, isUnread]);
}

/** True while such a box stands on the page. */
export const useAnyUnread = () => useSyncExternalStore(watch, () => unread.size > 0);
