import { useMemo, useState } from "react";
import { FindBox, type Found } from "./FindBox";
import { dateFormat } from "./dateFormat";

/** The zone's distance from UTC now, in words: "UTC+1", "UTC−3:30". */
export function offsetOf(zone: string, at = new Date()): string {
  const said = dateFormat("en-GB", { timeZone: zone, timeZoneName: "longOffset" }).formatToParts(at).find((p) => p.type === "timeZoneName")?.value ?? "GMT";
  const found = /^GMT(?:([+-])0?(\d{1,2}):(\d{2}))?$/.exec(said);
  if (!found?.[1] || /^0+$/.test(found[2]! + found[3]!)) return "UTC";
  return `UTC${found[1] === "-" ? "\u2212" : "+"}${found[2]}${found[3] === "00" ? "" : `:${found[3]}`}`;
}

/** The zone's city, as people say it: "Oslo". */
export const cityOf = (zone: string) => zone.split("/").at(-1)!.replaceAll("_", " ");

const lineOf = (zone: string): Found => ({ key: zone, label: cityOf(zone), line: [zone.includes("/") ? zone.split("/")[0]!.replaceAll("_", " ") : undefined, offsetOf(zone)].filter(Boolean).join(", ") });

let all: { zone: string; words: string }[] | undefined;

const zones = () => (all ??= ["UTC", ...Intl.supportedValuesOf("timeZone").filter((z) => z !== "UTC")].map((zone) => ({ zone, words: zone.toLowerCase().replaceAll(/[_/]/g, " ") })));

/** Zones that every word of a text is in, those whose city begins with it first; also by their distance: "utc+2". */
export function zonesFor(text: string): string[] {
  const words = text.toLowerCase().replaceAll(/[_/,]/g, " ").replace("gmt", "utc").split(/\s+/).filter(Boolean);
  const fits = zones().filter(({ zone, words: own }) => words.every((w) => own.includes(w) || (/^utc[+-]/.test(w) && offsetOf(zone).toLowerCase().replace("\u2212", "-") === w)));
  const first = (zone: string) => (cityOf(zone).toLowerCase().startsWith(words[0] ?? "") ? 0 : 1);
  return fits.map((z) => z.zone).sort((a, b) => first(a) - first(b));
}

type Props = { label: string; value: string; onChange: (zone: string) => void; error?: string; hint?: string };

/** A time zone by its IANA name, found by its city, its continent or its distance from UTC. */
export function ZoneBox({ label, value, onChange, error, hint }: Props) {
  const [sought, setSought] = useState("");
  const found = useMemo(() => zonesFor(sought).slice(0, 50).map(lineOf), [sought]);
  return <FindBox label={label} value={value ? lineOf(value) : null} onChange={(zone) => onChange(zone?.key ?? "")} found={found} onSeek={setSought} error={error} hint={hint} placeholder="a city, or UTC+1" none="No zone by these words." />;
}
