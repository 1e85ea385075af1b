import type { Sheet, Words } from "./queries";

const none: Words = { title: "", intro: "", send: "", thanks: "", fields: {}, hints: {}, consents: {} };

/** The words of a form in one language; blank where it is not translated yet. */
export const wordsIn = (draft: Sheet, language: string): Words => (language === draft.language ? draft.text : (draft.translations?.[language] ?? none));

/** The form with other words in one language. */
export const withWords = (draft: Sheet, language: string, words: Words): Sheet => (language === draft.language ? { ...draft, text: words } : { ...draft, translations: { ...draft.translations, [language]: words } });

/** Labels as they are being typed, with commas between: a comma at the end begins the next one. */
export function labelsOf(text: string): string[] {
  const parts = text.split(",");
  return parts
    .map((part, i) => (i < parts.length - 1 ? part.trim() : part.trimStart()))
    .filter((part, i) => part || i === parts.length - 1)
    .filter((part) => part !== "" || text.endsWith(","));
}
