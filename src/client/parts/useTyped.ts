import { useCallback, useState } from "react";
import { useSession } from "../Setup/session";

const prefix = "typed";
// Drafts older than this say nothing any more.
const longest = 14 * 86_400_000;

type Kept = { at: number; value: unknown };

const read = (key: string): unknown => {
  try {
    const kept = JSON.parse(localStorage.getItem(key) ?? "null") as Kept | null;
    return kept && Date.now() - kept.at < longest ? kept.value : undefined;
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

/**
 * What somebody types, kept for them and for this record until it is saved or thrown away by word: leaving the page, another kind of entry, a session that ends or a closed
 * browser lose nothing. Gives the value, a setter, and a way to forget it.
 */
export function useTyped<T>(name: string, initial: T): [T, (value: T) => void, () => void] {
  const { id } = useSession();
  const key = `${prefix}:${id}:${name}`;
  const [held, setHeld] = useState(() => ({ key, value: (read(key) ?? initial) as T }));
  // Another record under the same form has a draft of its own.
  const now = held.key === key ? held : { key, value: (read(key) ?? initial) as T };
  if (now !== held) setHeld(now);
  const set = useCallback(
    (value: T) => {
      setHeld({ key, value });
      write(key, value === initial || value === "" ? undefined : value);
    },
    // The initial value only tells what need not be kept.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [key],
  );
  const forget = useCallback(() => {
    setHeld({ key, value: initial });
    write(key, undefined);
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key]);
  return [now.value, set, forget];
}
