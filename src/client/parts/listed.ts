import type { Found } from "./FindBox";

const plain = (text: string) => text.normalize("NFD").replaceAll(/\p{M}/gu, "").toLowerCase();

/** Those of a list whose name or key begins with what is typed, then those that hold it. */
export function listedFor(options: readonly Found[], text: string): Found[] {
  const sought = plain(text.trim());
  const begins = (o: Found) => [o.label, o.key].some((t) => plain(t).startsWith(sought));
  const holds = (o: Found) => [o.label, o.line ?? ""].some((t) => plain(t).includes(sought));
  return sought ? [...options.filter(begins), ...options.filter((o) => !begins(o) && holds(o))] : [...options];
}
