import type { Schema } from "../api/client";
import { listed } from "../parts/format";

export type Reach = Schema["Reach"];

/** The parts of a reach, from all to few, as a role chooses them. */
export const reaches: readonly { key: Reach; label: string }[] = [
  { key: "all", label: "all" },
  { key: "own", label: "their own" },
  { key: "team", label: "their team's" },
  { key: "reports", label: "their reports'" },
  { key: "unowned", label: "nobody's" },
  { key: "shared", label: "shared with them" },
];

/** Whose records, in words. */
export const reachWords = (parts: readonly Reach[]) => (parts.includes("all") ? "all" : parts.length === 0 ? "none" : listed(reaches.filter((r) => parts.includes(r.key)).map((r) => r.label)));

/** One part as what a record is, or is not: "it is theirs". */
const words: Record<string, [is: string, isNot: string]> = {
  all: ["everybody's are seen", ""],
  own: ["it is their own", "it is not their own"],
  team: ["its owner is in a team with them", "its owner is in no team with them"],
  reports: ["its owner reports to them", "its owner does not report to them"],
  unowned: ["nobody owns it", "somebody owns it"],
  shared: ["it was shared with them", "it was not shared with them"],
};

export const isWords = (part: Reach) => words[part]?.[0] ?? "";
export const isNotWords = (part: Reach) => words[part]?.[1] ?? "";
