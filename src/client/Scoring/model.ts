import type { Schema } from "../api/client";
import type { Condition } from "../Conditions/conditions";

export type Model = Schema["ScoringModel"];
export type Criterion = Model["fit"][number];
export type Line = Criterion["lines"][number];
export type Signal = Model["engagement"][number];
export type Finding = Schema["ModelFinding"];
export type Trial = Schema["TrialView"];

/** What is chosen in the list at the left: a criterion, a signal, or what holds for all. */
export type Chosen = { kind: "fit"; at: number } | { kind: "engagement"; at: number } | { kind: "around" } | null;

export const put = <T>(list: readonly T[], at: number, item: T) => list.map((x, i) => (i === at ? item : x));

export const without = <T>(list: readonly T[], at: number) => list.filter((_, i) => i !== at);

/** The list with one taken out and put in at another place. */
export function moved<T>(list: readonly T[], from: number, to: number) {
  const rest = without(list, from);
  return [...rest.slice(0, to), list[from]!, ...rest.slice(to)];
}

/** Fewest and most points that a criterion gives; nothing is always possible. */
export const range = (criterion: Criterion) => ({ least: Math.min(0, ...criterion.lines.map((l) => l.points)), most: Math.max(0, ...criterion.lines.map((l) => l.points)) });

/** What is said about a part of the model, the parts within it included: `fit/2` has what is said of `fit/2/lines/0`. */
export const about = (findings: readonly Finding[], path: string) => findings.filter((f) => f.problem.path === path || f.problem.path.startsWith(`${path}/`));

/** What is said about a line or signal itself. */
export const said = (findings: readonly Finding[], path: string) => findings.filter((f) => f.problem.path === path);

/** A key nobody has yet, made of a name. */
export function keyFor(name: string, taken: readonly string[]) {
  const plain = name.toLowerCase().normalize("NFD").replace(/[^a-z0-9]+/g, "_").replace(/^_+|_+$/g, "") || "criterion";
  for (let n = 1; ; n++) if (!taken.includes(n === 1 ? plain : `${plain}_${n}`)) return n === 1 ? plain : `${plain}_${n}`;
}

/** The field a condition asks first. */
export function fieldOf(c: Condition): string | undefined {
  if ("field" in c) return c.field;
  if ("not" in c) return fieldOf(c.not);
  return ("all" in c ? c.all : c.any).map(fieldOf).find(Boolean);
}

/** Points of the map gathered in cells of so many points a side, the highest with the one below it. */
export function cells(map: readonly { fit: number; engagement: number; leads: number }[], width: number) {
  const found = new Map<string, { fit: number; engagement: number; leads: number }>();
  const edge = (score: number) => Math.min(Math.floor(score / width), Math.ceil(100 / width) - 1) * width;
  for (const p of map) {
    const [fit, engagement] = [edge(p.fit), edge(p.engagement)];
    const key = `${fit}-${engagement}`;
    const cell = found.get(key) ?? { fit, engagement, leads: 0 };
    found.set(key, { ...cell, leads: cell.leads + p.leads });
  }
  return [...found.values()];
}
