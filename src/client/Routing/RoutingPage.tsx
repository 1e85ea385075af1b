import { useState } from "react";
import { useSearchParams } from "react-router";
import { useMay } from "../common/session";
import { Bench, Inner, Pane } from "../parts/Bench";
import { ErrorNote, Skeleton } from "../parts/States";
import { Tabs } from "../parts/Tabs";
import { Answers } from "./Answers";
import { Editions } from "./Editions";
import { useCheck, useRouting } from "./queries";
import { RoutingSide } from "./RoutingSide";
import { Rules } from "./Rules";
import type { Chosen, Routing } from "./sheet";
import { Teams } from "./Teams";
import { Trial } from "./Trial";
import { useDraft } from "./useDraft";

type Shown = "rules" | "teams" | "answers" | "trial" | "editions";
const tabs: { key: Shown; label: string }[] = [
  { key: "rules", label: "Rule sheet" },
  { key: "teams", label: "Teams and turns" },
  { key: "answers", label: "Answers" },
  { key: "trial", label: "Trial" },
  { key: "editions", label: "Editions" },
];

/** The rule sheet: read, changed as a draft, checked as it is changed, tried on the leads there were, published; and the teams with their turns. */
export function RoutingPage() {
  const routing = useRouting();
  if (!routing.data) return <Bench>{routing.isError ? <ErrorNote error={routing.error} /> : <Skeleton />}</Bench>;
  return <Sheets routing={routing.data} />;
}

function Sheets({ routing }: { routing: Routing }) {
  const maySetUp = useMay("setUp");
  const draft = useDraft(routing);
  const [asked, setAsked] = useSearchParams();
  const shown = tabs.find((t) => t.key === asked.get("show"))?.key ?? "rules";
  const [chosen, setChosen] = useState<Chosen>(null);
  const sheet = draft.body ?? routing.live.sheet;
  const check = useCheck(sheet, maySetUp);
  const show = (key: Shown) => (setAsked(key === "rules" ? {} : { show: key }), setChosen(null));
  const editing = { routing, draft, sheet, chosen, onChoose: setChosen, onChange: maySetUp ? draft.change : undefined };
  // Both have the tried sheet; a person without the right to set up only reads.
  const reachable = maySetUp ? tabs : tabs.filter((t) => t.key !== "trial");
  return (
    <Bench>
      <Pane $sheet tabIndex={0} aria-label={tabs.find((t) => t.key === shown)!.label}>
        <Inner>
          <Tabs label="Routing" tabs={reachable} at={shown} onChoose={show} />
          {shown === "rules" && <Rules {...editing} findings={check.data?.findings ?? []} whole={check.data?.whole ?? true} words={check.data?.words} holes={check.data?.holes.length} />}
          {shown === "teams" && <Teams routing={routing} maySetUp={maySetUp} />}
          {shown === "answers" && <Answers />}
          {shown === "trial" && maySetUp && <Trial sheet={sheet} isDraft={!!draft.body} names={routing.names} />}
          {shown === "editions" && <Editions draft={draft} maySetUp={maySetUp} />}
        </Inner>
      </Pane>
      <RoutingSide {...editing} findings={check.data?.findings} onTrial={() => show("trial")} />
    </Bench>
  );
}
