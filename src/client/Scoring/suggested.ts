import type { Schema } from "../api/client";
import { put, type Model } from "./model";

/** The model with the points of these lines and signals; nothing else of it changes. */
export function applied(model: Model, chosen: readonly Schema["SuggestedPoint"][]): Model {
  return chosen.reduce((m, p) => {
    const [kind, at, , line] = p.path.split("/");
    const i = Number(at);
    if (kind === "engagement") return { ...m, engagement: put(m.engagement, i, { ...m.engagement[i]!, points: p.suggested }) };
    const criterion = m.fit[i]!;
    const l = Number(line);
    return { ...m, fit: put(m.fit, i, { ...criterion, lines: put(criterion.lines, l, { ...criterion.lines[l]!, points: p.suggested }) }) };
  }, model);
}
