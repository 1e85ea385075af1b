import { api, must, ApiError } from "../api/client";
import { whole } from "../parts/format";

// Written so, a number has one reading in every convention. Three digits behind a mark may be thousands, so they are none of these.
const plain = /^[-+]?(?:\d{1,15}|\d{1,15}\.(?:\d{1,2}|\d{4,})|0\.\d+)$/;

/** The number that a text says without doubt; NaN for any other text, which the server reads. */
export const plainNumber = (text: string) => (plain.test(text.trim()) ? Number(text.trim()) : Number.NaN);

/** A number written so that it has one reading: 12000, 12.5, 1.1250. */
export function asPlain(value: number): string {
  const text = String(value);
  return Number.isNaN(plainNumber(text)) && /\.\d{3}$/.test(text) ? `${text}0` : text;
}

/** A number as it is shown: 12 000, 1 200.5. */
export function shown(value: number): string {
  const [units, decimals] = String(Math.abs(value)).split(".");
  return `${value < 0 ? "−" : ""}${whole(Number(units))}${decimals ? `.${decimals}` : ""}`;
}

const known = new Map<string, number[]>();

/** What a written number can mean, as the server reads it: none, one, or two numbers. */
export async function readings(text: string): Promise<number[]> {
  const clean = text.trim();
  const sure = plainNumber(clean);
  if (!Number.isNaN(sure)) return [sure];
  const before = known.get(clean);
  if (before) return before;
  const read = (await must(api.GET("/api/numbers", { params: { query: { text: clean } } }))).readings;
  if (known.size > 200) known.clear();
  known.set(clean, read);
  return read;
}

/** The one number a text means. Throws the question where it can mean two, and says so where it means none. */
export async function numberOf(text: string, field?: string): Promise<number> {
  const read = await readings(text);
  if (read.length === 1) return read[0]!;
  const sentence = read.length === 2 ? `“${text.trim()}” can be ${shown(read[0]!)} or ${shown(read[1]!)}. Choose which is meant.` : `“${text.trim()}” is not a number.`;
  throw new ApiError(sentence, 422, read.length === 2 ? "number-two-readings" : "number-unreadable", field);
}
