import { describe, expect, it } from "vitest";
import { readNote } from "./note";

const plain = (text: string) => readNote(text).map((l) => (l.item ? "• " : "") + l.pieces.map((p) => p.text).join("")).join("\n");

describe("a note", () => {
  it("says what is strong, slanted and a link", () => {
    expect(readNote("**Budget** is *not* fixed, see https://a.example/x.")[0]!.pieces).toEqual([
      { text: "Budget", look: "strong" },
      { text: " is " },
      { text: "not", look: "slanted" },
      { text: " fixed, see " },
      { text: "https://a.example/x", href: "https://a.example/x" },
      { text: "." },
    ]);
  });
  it("has lists", () => expect(readNote("Wants\n- two buoys\n- a visit").map((l) => l.item)).toEqual([false, true, true]));
  it("keeps what is no mark", () => {
    for (const text of ["2 * 3 * 4", "a ** b", "5*", "javascript:alert(1)", "", "*"]) expect(plain(text)).toBe(text);
  });
  it("never links but to a page", () => expect(readNote("javascript:alert(1) data:text/html,x")[0]!.pieces.some((p) => p.href)).toBe(false));
});
