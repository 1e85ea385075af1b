/** The worklist's conditions as they stand in the address bar, and the condition language they are sent as. */
export type Picks = { countries: string[]; state: string; fit: number; owner: string; source: string; move: string; text: string; days: number; order: string };

type Condition = { all: Condition[] } | { any: Condition[] } | { not: Condition } | { field: string; is: string; values: string[] };

export const orders = [
  { key: "newest", label: "newest first" },
  { key: "touch", label: "latest touch first" },
  { key: "fit", label: "best fit first" },
  { key: "engagement", label: "most engaged first" },
  { key: "clock", label: "shortest clock first" },
];

const open = ["new", "in_work", "on_hold", "qualified"];
const searched = ["first_name", "last_name", "company", "email", "phone"];

export function readPicks(params: URLSearchParams): Picks {
  return {
    countries: params.get("country")?.split(",").filter(Boolean) ?? [],
    state: params.get("state") ?? (params.get("text") ? "any" : "open"),
    fit: Number(params.get("fit")) || 0,
    owner: params.get("owner") ?? "any",
    source: params.get("source") ?? "any",
    move: params.get("move") ?? "any",
    text: params.get("text") ?? "",
    days: Number(params.get("days")) || 0,
    order: params.get("order") ?? "newest",
  };
}

const is = (field: string, ...values: string[]): Condition => ({ field, is: "in", values });

/** The condition for the server; null when every lead is meant. */
export function toCondition(picks: Picks): Condition | null {
  const all: Condition[] = [];
  if (picks.countries.length) all.push(is("country", ...picks.countries));
  if (picks.state === "open") all.push(is("state", ...open));
  else if (picks.state !== "any") all.push(is("state", picks.state));
  if (picks.fit) all.push({ field: "fit", is: "at-least", values: [String(picks.fit)] });
  if (picks.owner === "none") all.push({ not: { field: "owner", is: "known", values: [] } });
  else if (picks.owner !== "any") all.push(is("owner", picks.owner));
  if (picks.source !== "any") all.push(is("source", picks.source));
  if (picks.move !== "any") all.push(is("next_move", picks.move));
  if (picks.days) all.push({ field: "created_at", is: "within-days", values: [String(picks.days)] });
  // Every word must be found somewhere: "ragna fjordnær" finds her.
  for (const word of picks.text.split(/\s+/).filter(Boolean)) all.push({ any: searched.map((field) => ({ field, is: "contains", values: [word] })) });
  return all.length ? { all } : null;
}
