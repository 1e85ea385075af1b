import type { Found } from "./FindBox";

const names = new Intl.DisplayNames(["en"], { type: "currency" });

// What this trade meets most stands first.
const first = ["EUR", "GBP", "USD", "NOK", "SEK", "DKK", "CHF", "CAD"];

/** Every currency by its ISO 4217 code, with its name. */
export const currencies: readonly Found[] = [...first, ...Intl.supportedValuesOf("currency").filter((c) => !first.includes(c))].map((key) => ({ key, label: key, line: names.of(key) }));
