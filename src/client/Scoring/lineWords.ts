import type { Condition, Field } from "../Conditions/conditions";

const longest = 120;

/** Words for a line of a criterion, as people read them until somebody writes others. */
export const lineWords = (condition: Condition, fields: Field[]) => {
  if (!("field" in condition)) return "New line";
  const field = fields.find((f) => f.key === condition.field);
  const shown = condition.values.map((v) => field?.choices.find((c) => c.key === v)?.label ?? v);
  const name = field?.label ?? condition.field;
  if (condition.is === "in") return shown.join(" or ").slice(0, longest);
  if (condition.is === "between") return `${name} ${shown[0]} to ${shown[1]}`;
  if (condition.is === "at-least") return `${name} ${shown[0]} or more`;
  if (condition.is === "at-most") return `${name} ${shown[0]} or less`;
  return `${name}: ${shown.join(" or ")}`.slice(0, longest);
};

