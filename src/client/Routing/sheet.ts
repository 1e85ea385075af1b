import type { Schema } from "../api/client";
import { allOf, partsOf, type Condition } from "../Conditions/conditions";

export type Sheet = Schema["RuleSheet"];
export type Rule = Sheet["rules"][number];
export type Goal = Rule["to"];
export type Finding = Schema["SheetFinding"];
export type Routing = Schema["RoutingView"];
export type Names = Schema["RuleNames"];

/** What is chosen: a rule, what comes before the rules, or what no rule takes. */
export type Chosen = { kind: "rule"; at: number } | { kind: "terms" } | { kind: "holes" } | null;

/** Fields that a condition asks, each once. */
export function fieldsOf(c: Condition): string[] {
  if ("field" in c) return [c.field];
  const parts = "not" in c ? [c.not] : "all" in c ? c.all : c.any;
  return [...new Set(parts.flatMap(fieldsOf))];
}

/** The part of a rule that one field is asked in; null where it is not asked. */
export function cellOf(rule: Rule, field: string): Condition | null {
  const own = flat(rule.when as Condition).filter((p) => fieldsOf(p).join() === field);
  return own.length === 0 ? null : allOf(own);
}

const flat = (c: Condition): Condition[] => ("all" in c ? partsOf(c).flatMap(flat) : [c]);

/** The rule with another cell; null leaves it open. */
export function withCell(rule: Rule, field: string, cell: Condition | null): Rule {
  const others = flat(rule.when as Condition).filter((p) => fieldsOf(p).join() !== field);
  return { ...rule, when: { all: cell ? [...others, cell] : others } as Rule["when"] };
}

/** What is said about a rule, wherever in it. */
export const saidOf = (findings: readonly Finding[], at: number) => findings.filter((f) => f.problem.path === `rules/${at}` || f.problem.path.startsWith(`rules/${at}/`));

/** What is said about the sheet as a whole. */
export const saidOfAll = (findings: readonly Finding[]) => findings.filter((f) => !f.problem.path.startsWith("rules/"));

export type Way = "person" | "team" | "serving" | "keep" | "hold";

export const wayOf = (to: Goal): Way => (to.person != null ? "person" : to.team != null ? "team" : to.serving ? "serving" : to.keep ? "keep" : "hold");

/** A goal of another kind, with what both kinds have. */
export function goalBy(way: Way, names: Names, before: Goal): Goal {
  const kept = { speaking: before.speaking, skills: before.skills, else: before.else };
  if (way === "person") return { ...kept, person: names.persons[0]?.key ?? "" };
  if (way === "team") return { ...kept, team: names.teams[0]?.key ?? "" };
  if (way === "serving") return { ...kept, serving: true };
  return way === "keep" ? { keep: true } : { hold: "to be decided" };
}

/** Where a goal sends leads, in words. */
export function goalWords(to: Goal, names: Names): string {
  const named = (list: readonly { key: string; name: string }[], key: string) => list.find((n) => n.key === key)?.name ?? `${key}, who is gone`;
  const first =
    to.person != null ? named(names.persons, to.person) : to.team != null ? `${named(names.teams, to.team)}, in turn` : to.serving ? "Who serves the country, in turn" : to.keep ? "Stays with whom it is" : `The Desk: ${to.hold ?? ""}`;
  return to.else ? `${first}; else ${goalWords(to.else, names)}` : first;
}
