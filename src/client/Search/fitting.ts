import type { Command } from "./commands";

/** What was found for one text helps while that text is typed on or taken back, and not when another is begun. */
export const continues = (one: string, other: string) => one.startsWith(other) || other.startsWith(one);

/** Those every word of the text is the beginning of some word of. */
export const commandsFor = (commands: Command[], text: string) => {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  if (words.length === 0) return [];
  return commands.filter((c) => {
    const has = `${c.group} ${c.label} ${c.also ?? ""}`.toLowerCase().split(/\s+/);
    return words.every((w) => has.some((h) => h.startsWith(w)));
  });
};
