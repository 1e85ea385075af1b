import { useNavigate } from "react-router";
import { Tabs } from "../parts/Tabs";

const tabs = [
  { key: "deals", label: "Deals" },
  { key: "accounts", label: "Accounts" },
  { key: "contacts", label: "Contacts" },
] as const;

/** What stands at this stop: the deals, and the directory of whom they are with. */
export function DirectoryTabs({ at }: { at: (typeof tabs)[number]["key"] }) {
  const navigate = useNavigate();
  return <Tabs label="At this stop" tabs={tabs} at={at} onChoose={(key) => void navigate(key === "deals" ? "/deals" : `/deals/${key}`)} />;
}
