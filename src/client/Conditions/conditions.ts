import type { Schema } from "../api/client";
import { dateFormat } from "../parts/dateFormat";

export type Field = Schema["FieldView"];
export type Test = { field: string; is: string; values: string[] };
export type Condition = { all: Condition[] } | { any: Condition[] } | { not: Condition } | Test;

/** One part of the sentence: a test, or that it does not hold. */
export type Leaf = Test | { not: Test };

export const always: Condition = { all: [] };

export const isTest = (c: Condition): c is Test => "field" in c;

export const isLeaf = (c: Condition): c is Leaf => isTest(c) || ("not" in c && isTest(c.not));

export const testOf = (leaf: Leaf): Test => ("not" in leaf ? leaf.not : leaf);

/** The parts that must all hold. */
export const partsOf = (c: Condition): Condition[] => ("all" in c ? c.all : [c]);

/** All of them together; those that are made of parts themselves add these, and what always holds adds nothing. */
export function allOf(conditions: Condition[]): Condition {
  const all = conditions.flatMap(partsOf);
  return all.length === 1 ? all[0]! : { all };
}

const childrenOf = (c: Condition): Condition[] => ("all" in c ? c.all : "any" in c ? c.any : "not" in c ? [c.not] : []);

const withChildren = (c: Condition, children: Condition[]): Condition => ("all" in c ? { all: children } : "any" in c ? { any: children } : "not" in c ? { not: children[0]! } : c);

/** The condition with the part at a path put in place of, or left out. A group with one part left is that part; one with none goes. */
export function replaced(c: Condition, path: number[], next: Condition | null): Condition | null {
  const [at, ...rest] = path;
  if (at === undefined) return next;
  const children = childrenOf(c).flatMap((child, i) => (i === at ? [replaced(child, rest, next)] : [child]).filter((x): x is Condition => x !== null));
  if (children.length === 0) return null;
  return children.length === 1 && !("not" in c) ? children[0]! : withChildren(c, children);
}

/** Puts another condition beside the part at a path: either may hold, or both must. */
export function beside(c: Condition, path: number[], other: Condition, how: "any" | "all"): Condition {
  const at = path.reduce((part, i) => childrenOf(part)[i]!, c);
  const joined = how === "any" && "any" in at ? { any: [...at.any, other] } : how === "all" && "all" in at ? { all: [...at.all, other] } : how === "any" ? { any: [at, other] } : { all: [at, other] };
  return replaced(c, path, joined)!;
}

const lower = (label: string) => (/^.[A-Z]/.test(label) ? label : label.charAt(0).toLowerCase() + label.slice(1));

const listed = (values: string[]) => (values.length > 4 ? `${values.slice(0, 3).join(", ")} or ${values.length - 3} more` : values.length > 1 ? `${values.slice(0, -1).join(", ")} or ${values.at(-1)}` : values[0] ?? "…");

const showDay = (stored: string) => dateFormat("en-GB", { day: "numeric", month: "short", year: "numeric", timeZone: "UTC" }).format(new Date(stored));

/** Words for an operator, as they stand behind the field's name. */
export const operators: Record<string, string> = {
  in: "is",
  contains: "contains",
  "starts-with": "begins with",
  "begins-between": "begins with, from and to",
  "at-least": "is at least",
  "at-most": "is at most",
  between: "is between",
  known: "is known",
  "within-days": "within the last days",
  "older-than-days": "more than days ago",
  past: "is past",
  since: "since",
  before: "before",
};

/** A part of the sentence as words: "country is Norway or Sweden", "without owner". */
export function wordsOf(leaf: Leaf, fields: Field[]): string {
  const { field: key, is, values } = testOf(leaf);
  const field = fields.find((f) => f.key === key);
  const name = lower(field?.label ?? key);
  const not = "not" in leaf;
  const shown = values.map((v) => field?.choices.find((c) => c.key === v)?.label ?? (field?.type === "date" && v.includes("T") ? showDay(v) : v));
  if (is === "known") return not ? `without ${name}` : `with ${name} known`;
  const says: Record<string, string> = {
    in: `${name} is ${not ? "not " : ""}${listed(shown)}`,
    "at-least": not ? `${name} under ${values[0]}` : `${name} ${values[0]} or more`,
    "at-most": not ? `${name} over ${values[0]}` : `${name} ${values[0]} or less`,
    between: `${name} ${not ? "not " : ""}between ${values[0]} and ${values[1]}`,
    "begins-between": `${name} ${not ? "does not begin" : "begins"} with ${values[0]} to ${values[1]}`,
    "within-days": `${name} ${not ? "not " : ""}within ${values[0]} days`,
    "older-than-days": `${name} ${not ? "not " : ""}over ${values[0]} days ago`,
    past: `${name} ${not ? "not " : ""}past`,
    since: not ? `${name} before ${shown[0]}` : `${name} since ${shown[0]}`,
    before: not ? `${name} since ${shown[0]}` : `${name} before ${shown[0]}`,
  };
  return says[is] ?? `${name} ${not ? "does not " : ""}${not ? { contains: "contain", "starts-with": "begin with" }[is] : operators[is]} ${listed(shown.map((v) => `“${v}”`))}`;
}

const open = ["new", "in_work", "on_hold", "qualified"];
const searched = ["first_name", "last_name", "company", "email", "phone"];
const is = (field: string, ...values: string[]): Test => ({ field, is: "in", values });

/** Short words in the address bar that other screens link by. */
export const shortcuts = ["country", "state", "fit", "owner", "source", "move", "days"];

/** The condition that the address bar's short words mean. */
export function fromShortcuts(params: URLSearchParams): Condition {
  const all: Condition[] = [];
  const state = params.get("state") ?? (params.get("text") ? "any" : "open");
  const [countries, fit, owner, source, move, days] = ["country", "fit", "owner", "source", "move", "days"].map((k) => params.get(k));
  if (countries) all.push(is("country", ...countries.split(",").filter(Boolean)));
  if (state === "open") all.push(is("state", ...open));
  else if (state !== "any") all.push(is("state", state));
  if (Number(fit)) all.push({ field: "fit", is: "at-least", values: [fit!] });
  if (owner === "none") all.push({ not: { field: "owner", is: "known", values: [] } });
  else if (owner && owner !== "any") all.push(is("owner", owner));
  if (source && source !== "any") all.push(is("source", source));
  if (move && move !== "any") all.push(is("next_move", move));
  if (Number(days)) all.push({ field: "created_at", is: "within-days", values: [days!] });
  return { all };
}

/** Every word must be found somewhere: "ragna fjordnær" finds her. */
export const searching = (text: string): Condition[] =>
  text
    .split(/\s+/)
    .filter(Boolean)
    .map((word) => ({ any: searched.map((field) => ({ field, is: "contains", values: [word] })) }));
