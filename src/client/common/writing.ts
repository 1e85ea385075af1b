import type { Session } from "./session";

/** The marks somebody writes before decimals. */
export const decimalMarks: { key: Session["numbers"]; label: string }[] = [
  { key: "either", label: "ask me where it is not clear" },
  { key: "point", label: "1,234.56" },
  { key: "comma", label: "1.234,56" },
];

/** The orders in which somebody writes a date. */
export const dateForms: { key: Session["dates"]; label: string }[] = [
  { key: "dayFirst", label: "24 Dec 2026, 24/12" },
  { key: "monthFirst", label: "Dec 24, 2026, 12/24" },
  { key: "yearFirst", label: "2026-12-24" },
];
