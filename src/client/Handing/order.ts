import type { HandingOrder, Holdings, Receiver } from "./queries";

/** How records of a kind are to go, as the page has it; empty text for what is not chosen. */
export type KindChoice = { how: string; person: string; team: string };

export type Choices = {
  /** leaves, leave or stays. */
  mode: string;
  lastDay: string;
  kinds: Record<string, KindChoice>;
  /** Receivers of single records, by kind and record. */
  singly: Record<string, Record<string, string>>;
  placesTo: string;
  /** A person's id, or `team:` with a team's key. */
  rulesTo: string;
  reportsTo: string;
  note: string;
};

export const ofTeam = "team:";

/** What is proposed: the first way of each kind that is open here; for turns the person's own team. */
export function proposed({ kinds, receivers, teams, places, here, hasRules }: Holdings): Choices {
  const team = (teams.find((t) => places.includes(t.label)) ?? teams[0])?.key ?? "";
  const wayOf = (ways: readonly string[]) => ways.find((w) => (w !== "rules" || hasRules) && (w !== "turn" || team)) ?? "person";
  return {
    mode: here ? "leaves" : "stays",
    lastDay: "",
    kinds: Object.fromEntries(kinds.map((k) => [k.kind, { how: wayOf(k.ways), person: only(takers(receivers, k.kind)), team }])),
    singly: {},
    placesTo: "",
    rulesTo: "",
    reportsTo: "",
    note: "",
  };
}

// Where one alone may have it, there is nothing to choose.
const only = (people: readonly Receiver[]) => (people.length === 1 ? people[0]!.id : "");

/** Who may have records of a kind. */
export const takers = (receivers: readonly Receiver[], kind: string) => receivers.filter((r) => r.takes.includes(kind));

/** What is sent: only kinds of which something is held. */
export function orderOf(choices: Choices, holdings: Holdings): HandingOrder {
  const held = holdings.kinds.filter((k) => k.count > 0);
  const leaves = choices.mode === "leaves";
  return {
    kinds: held.map(({ kind }) => {
      const { how, person, team } = choices.kinds[kind]!;
      return { kind, how, person: how === "turn" || how === "rules" ? null : person || null, team: how === "turn" ? team : null };
    }),
    singly: held.flatMap(({ kind }) => Object.entries(choices.singly[kind] ?? {}).flatMap(([record, to]) => (to ? [{ kind, record, to }] : []))),
    leaves,
    lastDay: choices.mode === "leave" ? choices.lastDay || null : null,
    placesTo: (leaves && choices.placesTo) || null,
    rulesTo: leaves && choices.rulesTo && !choices.rulesTo.startsWith(ofTeam) ? choices.rulesTo : null,
    rulesTeam: leaves && choices.rulesTo.startsWith(ofTeam) ? choices.rulesTo.slice(ofTeam.length) : null,
    reportsTo: (leaves && choices.reportsTo) || null,
    note: choices.note,
  };
}
