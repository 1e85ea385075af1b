import { useSession, type Act } from "./session";

/** The stops of the lead's way, in order. */
export const stops = [
  { key: "desk", name: "Desk", path: "/desk" },
  { key: "intake", name: "Intake", path: "/intake" },
  { key: "leads", name: "Leads", path: "/leads" },
  { key: "scoring", name: "Scoring", path: "/scoring" },
  { key: "routing", name: "Routing", path: "/routing" },
  { key: "handover", name: "Handover", path: "/handover" },
  { key: "deals", name: "Deals", path: "/deals" },
  { key: "reports", name: "Reports", path: "/reports" },
] as const;

export type SetupPlace = { key: string; label: string; about: string; path: string; act: Act };

const page = (key: string, label: string, about: string, act: Act, path = `/setup/${key}`): SetupPlace => ({ key, label, about, path, act });

/** The pages of the set-up in their groups, with the right that opens each. */
export const setupGroups: readonly { name: string; about: string; pages: readonly SetupPlace[] }[] = [
  {
    name: "Company",
    about: "Who you are to the outside, and what is taken for granted.",
    pages: [
      page("company", "Company", "Name, address, logo, currency, zone, fiscal year", "setUp"),
      page("mail", "Letters", "Sender and mail server, tried by a letter to yourself", "managePeople"),
      page("start", "The first hour", "What is done of it, and what was left", "managePeople"),
    ],
  },
  {
    name: "People and rights",
    about: "Who works here, as what, and where they are signed in.",
    pages: [
      page("people", "People", "Invite, change, let go", "managePeople"),
      page("roles", "Roles", "What each role sees and does, field by field", "managePeople"),
      page("provider", "Identity provider", "Sign-in by one account for all, roles and teams by its groups", "managePeople"),
      page("teams", "Teams and turns", "Who is in which team, at which hours, how many leads they take", "setUp", "/routing?show=teams"),
      page("sessions", "You and your sessions", "How you write dates and numbers, where you are signed in, your password", "seeDesk"),
    ],
  },
  { name: "Fields and lists", about: "What is known about a record, and what there is to choose from.", pages: [page("lists", "Lists of values", "Reasons, sub-states, competitors, parts in a deal, kinds, segments, industries", "setUp"), page("fields", "Fields of your own", "Facts beside the usual ones", "setUp")] },
  {
    name: "Ways in",
    about: "Where leads come from, and who must not be written to.",
    pages: [
      page("sources", "Sources", "What an arrival counts as, which campaign it belongs to", "setUp"),
      page("tags", "Tags", "Marks for leads, in groups", "coinTags"),
      page("barred", "Do not contact", "People and domains that stay outside", "runIntake"),
      page("persons", "One person's data", "All we have of somebody: told, taken along, erased", "answerPersons"),
    ],
  },
  { name: "What follows by itself", about: "Words and steps that need not be thought up each time.", pages: [page("templates", "Templates", "Letters to be filled in, and steps that follow one another", "setUp")] },
  { name: "Matching", about: "When two records are the same person or company.", pages: [page("matching", "How records are matched", "The weight of each likeness, and who wins in a merge", "setUp")] },
  { name: "Selling", about: "The way from the first talk to the deal won.", pages: [page("pipelines", "Pipelines", "Stages, questions, when a lead is qualified", "setUp")] },
  { name: "Other systems", about: "Programs that bring leads or take them along.", pages: [page("access", "Access for other systems", "Tokens by which programs come in", "keepTokens")] },
  {
    name: "Health and audit",
    about: "What was sent, what failed, what was changed by whom.",
    pages: [
      page("sent", "What was sent", "Letters that left, wait or were refused", "setUp"),
      page("backups", "Backups", "The last one, its trial, and one more by hand", "managePeople"),
      page("failed", "Work that failed", "What could not be done by itself", "seeLog"),
      page("log", "The log", "Who did what, and when", "seeLog"),
    ],
  },
];

/** The groups with the pages that the signed-in person may see; those without any are left out. */
export function useSetupGroups() {
  const { may } = useSession();
  return setupGroups.map((g) => ({ ...g, pages: g.pages.filter((p) => may.includes(p.act)) })).filter((g) => g.pages.length > 0);
}
