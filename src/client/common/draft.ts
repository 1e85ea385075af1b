import { useCallback, useMemo, useState } from "react";
import { useMaybeSession } from "./session";

const prefix = "typed";
// Drafts older than this say nothing any more.
const longest = 14 * 86_400_000;

type Kept = { at: number; value: unknown };

const read = (key: string): Kept | undefined => {
  try {
    const kept = JSON.parse(localStorage.getItem(key) ?? "null") as Kept | null;
    return kept && Date.now() - kept.at < longest ? kept : undefined;
  } catch {
    return undefined;
  }
};

const write = (key: string, value: unknown) => {
  try {
    if (value === undefined) localStorage.removeItem(key);
    else localStorage.setItem(key, JSON.stringify({ at: Date.now(), value } satisfies Kept));
  } catch {
    // A full or closed store keeps nothing; what is typed is still on the page.
  }
};

type Changed<T> = { key: string; value: Partial<T>; since?: number };

const opened = <T extends object>(key: string, initial: T): Changed<T> => {
  const kept = read(key);
  const known = Object.entries(kept?.value ?? {}).filter(([name]) => name in initial);
  return { key, value: Object.fromEntries(known) as Partial<T>, since: known.length ? kept?.at : undefined };
};

/**
 * What somebody types into a form, kept for them and for this record until it is saved or thrown away by word: leaving the page, a session that ends or a closed browser lose
 * nothing. Only what differs from `initial` is kept, so that a field nobody touched shows the newest value. `name` names the record and the form; without one nothing is kept.
 */
export function useDraft<T extends object>(name: string | undefined, from: T) {
  // The caller makes it anew for each drawing; the same values are the same start.
  // eslint-disable-next-line react-hooks/exhaustive-deps
  const initial = useMemo(() => from, [JSON.stringify(from)]);
  const me = useMaybeSession();
  const key = name && me ? `${prefix}:${me.id}:${name}` : "";
  const [held, setHeld] = useState<Changed<T>>(() => (key ? opened(key, initial) : { key, value: {} }));
  // Another record under the same form has a draft of its own.
  const now = held.key === key ? held : opened(key, initial);
  if (now !== held) setHeld(now);
  const values = useMemo(() => ({ ...initial, ...now.value }), [initial, now.value]);
  const set = useCallback(
    (change: Partial<T>) =>
      setHeld((before) => {
        const all = { ...(before.key === key ? before.value : {}), ...change };
        const value = Object.fromEntries(Object.entries(all).filter(([field, v]) => JSON.stringify(v) !== JSON.stringify(initial[field as keyof T]))) as Partial<T>;
        if (key) write(key, Object.keys(value).length ? value : undefined);
        return { key, value, since: before.since };
      }),
    [key, initial],
  );
  const forget = useCallback(() => {
    setHeld({ key, value: {} });
    if (key) write(key, undefined);
  }, [key]);
  return { values, set, forget, isChanged: Object.keys(now.value).length > 0, since: now.since };
}
