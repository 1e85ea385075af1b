import { useMay } from "./session";

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

/** The pages under the person's menu, with who may see them. */
const setups = [
  ["sessions", "You and your sessions", "seeDesk"],
  ["people", "People", "managePeople"],
  ["fields", "Fields of your own", "setUp"],
  ["pipelines", "Pipelines", "setUp"],
  ["sources", "Sources", "setUp"],
  ["tags", "Tags", "coinTags"],
  ["matching", "How records are matched", "setUp"],
  ["barred", "Do not contact", "runIntake"],
  ["persons", "One person's data", "answerPersons"],
  ["templates", "Templates", "setUp"],
  ["sent", "What was sent", "setUp"],
  ["access", "Access for other systems", "setUp"],
  ["failed", "Work that failed", "seeLog"],
  ["log", "The log", "seeLog"],
] as const;

/** Those the signed-in person may see. */
export function useSetups() {
  const may = { seeDesk: useMay("seeDesk"), setUp: useMay("setUp"), coinTags: useMay("coinTags"), runIntake: useMay("runIntake"), answerPersons: useMay("answerPersons"), seeLog: useMay("seeLog"), managePeople: useMay("managePeople") };
  return setups.filter(([, , act]) => may[act]).map(([key, label]) => ({ key, label, path: `/setup/${key}` }));
}
