const kept = new Map<string, Intl.DateTimeFormat>();

/** Writes moments in a locale's way. To make one takes longer than to write a hundred moments, so each is made once. */
export function dateFormat(locale: string, options: Intl.DateTimeFormatOptions) {
  const name = locale + JSON.stringify(options);
  const known = kept.get(name);
  if (known) return known;
  const made = new Intl.DateTimeFormat(locale, options);
  kept.set(name, made);
  return made;
}
