import { expect, test } from "vitest";
import { ofTeam, orderOf, proposed } from "./order";
import type { Holdings } from "./queries";

const holdings = {
  id: "tor",
  name: "Tor",
  here: true,
  hasRules: false,
  kinds: [
    { kind: "lead", count: 2, words: "2 leads", money: [], ways: ["rules", "turn", "person"] },
    { kind: "contact", count: 1, words: "1 contact", money: [], ways: ["along", "turn", "person"] },
    { kind: "deal", count: 0, words: "0 deals", money: [], ways: ["along", "turn", "person"] },
  ],
  rules: [],
  places: ["South"],
  reports: [],
  tokens: 0,
  hasCalendar: false,
  receivers: [{ id: "ada", name: "Ada", signIn: "ada", roles: ["rep"], takes: ["lead", "contact"], away: false }],
  teams: [
    { key: "north", label: "North" },
    { key: "south", label: "South" },
  ],
  before: [],
} satisfies Holdings;

test("proposes what is open here: no rules, the own team, the one person there is", () => {
  const choices = proposed(holdings);
  expect(choices.kinds.lead).toEqual({ how: "turn", person: "ada", team: "south" });
  expect(choices.kinds.contact!.how).toBe("along");
  expect(proposed({ ...holdings, hasRules: true }).kinds.lead!.how).toBe("rules");
  expect(proposed({ ...holdings, teams: [], here: false })).toMatchObject({ mode: "stays", kinds: { lead: { how: "person" } } });
});

test("sends only what is held, and only what goes with leaving when they leave", () => {
  const choices = { ...proposed(holdings), rulesTo: `${ofTeam}north`, placesTo: "ada", singly: { lead: { a: "ada", b: "" }, deal: { c: "ada" } } };
  expect(orderOf(choices, holdings)).toEqual({
    kinds: [
      { kind: "lead", how: "turn", person: null, team: "south" },
      { kind: "contact", how: "along", person: "ada", team: null },
    ],
    singly: [{ kind: "lead", record: "a", to: "ada" }],
    leaves: true,
    lastDay: null,
    placesTo: "ada",
    rulesTo: null,
    rulesTeam: "north",
    reportsTo: null,
    note: "",
  });
  expect(orderOf({ ...choices, mode: "leave", lastDay: "2027-01-08" }, holdings)).toMatchObject({ leaves: false, lastDay: "2027-01-08", placesTo: null, rulesTeam: null });
  expect(orderOf({ ...choices, rulesTo: "ada" }, holdings)).toMatchObject({ rulesTo: "ada", rulesTeam: null });
});
