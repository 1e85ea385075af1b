// Turns the translated country names of Debian's package `iso-codes` (LGPL 2.1+) into country-names.tsv: a code, then its names in other languages.
// Run from the repository root on a machine with that package: node src/Core/Fields/data/make-country-names.mjs
import { existsSync, readFileSync, writeFileSync } from "node:fs";

const languages = ["de", "fr", "es", "nb", "nn", "sv", "da", "it", "nl", "pt", "pt_BR", "pl", "fi", "cs"];

// A GNU message catalogue: pairs of length and offset for originals and for translations, little endian.
const catalogue = (language) => {
  const file = `/usr/share/locale/${language}/LC_MESSAGES/iso_3166-1.mo`;
  if (!existsSync(file)) throw new Error(`${file} is missing; install iso-codes`);
  const bytes = readFileSync(file);
  const [count, originals, translations] = [8, 12, 16].map((at) => bytes.readUInt32LE(at));
  const text = (table, i) => bytes.toString("utf8", bytes.readUInt32LE(table + 8 * i + 4), bytes.readUInt32LE(table + 8 * i + 4) + bytes.readUInt32LE(table + 8 * i));
  return new Map(Array.from({ length: count }, (_, i) => [text(originals, i), text(translations, i)]));
};

const translated = languages.map(catalogue);
const countries = JSON.parse(readFileSync("/usr/share/iso-codes/json/iso_3166-1.json", "utf8"))["3166-1"];
const line = (country) => {
  const names = new Set();
  for (const messages of translated)
    for (const name of [country.common_name, country.name, country.official_name]) if (name && messages.get(name)) names.add(messages.get(name));
  // "Korea, Republik" is also written the other way round.
  for (const name of [...names]) if (name.split(", ").length === 2) names.add(name.split(", ").reverse().join(" "));
  return [country.alpha_2, ...names].join("\t");
};
writeFileSync("src/Core/Fields/data/country-names.tsv", countries.map(line).sort().join("\n") + "\n");
