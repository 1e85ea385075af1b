import type { Field } from "../Conditions/conditions";

const grains = [
  { key: "day", label: "day" },
  { key: "week", label: "week" },
  { key: "month", label: "month" },
  { key: "year", label: "year" },
];

/** Fields one can group by, dates in four grains. */
export const groupings = (fields: Field[]) =>
  fields
    .filter((f) => !f.many && !["phone", "email"].includes(f.type))
    .flatMap((f) => (f.type === "date" ? grains.map((g) => ({ key: `${f.key}:${g.key}`, label: `${f.label}, by ${g.label}` })) : [{ key: f.key, label: f.label }]));

/** What a field is called; its key where there is none. */
export const labelOf = (fields: Field[], key: string) => fields.find((f) => f.key === key)?.label ?? key;

const words = (part: string, fields: Field[]) => {
  const [key, down] = [part.replace(/^-/, ""), part.startsWith("-")];
  const type = fields.find((f) => f.key === key)?.type;
  const name = labelOf(fields, key);
  const word = /^.[A-Z]/.test(name) ? name : name.toLowerCase();
  const number = type === "number" || type === "money";
  if (down) return `${word}, ${type === "date" ? "latest" : number ? "greatest" : "Z to A"} first`;
  return `${word}${type === "date" ? ", earliest first" : number ? ", smallest first" : ""}`;
};

/** The order as words: "newest first", "by fit, greatest first, then company". */
export function orderWords(order: string, fields: Field[]) {
  if (order === "-created_at") return "newest first";
  const parts = order.split(",").map((part) => words(part, fields));
  return `by ${parts.join(", then ")}`;
}
