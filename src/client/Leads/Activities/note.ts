/** A piece of a note: plain, strong, slanted, or a link. */
export type Piece = { text: string; look?: "strong" | "slanted"; href?: string };
/** A note's line; `item` where it stands in a list. */
export type NoteLine = { pieces: Piece[]; item: boolean };

const marks = /(\*\*[^*\n]+\*\*|\*[^*\s][^*\n]*\*|https?:\/\/[^\s<>"']+[^\s<>"'.,;:!?)])/g;

const piece = (part: string): Piece => {
  if (part.startsWith("**") && part.length > 4) return { text: part.slice(2, -2), look: "strong" };
  if (/^https?:\/\//.test(part)) return { text: part, href: part };
  if (part.startsWith("*") && part.endsWith("*") && part.length > 2) return { text: part.slice(1, -1), look: "slanted" };
  return { text: part };
};

/** Reads a note: **strong**, *slanted*, addresses of pages, lines that begin with "- ". What is none of these stays as it is written. */
export const readNote = (text: string): NoteLine[] =>
  text.split("\n").map((line) => {
    const item = /^\s*[-•]\s+/.test(line);
    const rest = item ? line.replace(/^\s*[-•]\s+/, "") : line;
    return { item, pieces: rest.split(marks).filter(Boolean).map(piece) };
  });
