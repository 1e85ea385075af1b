import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import styled from "styled-components";
import { useFields } from "../common/fields";
import { Bench, Cap, Head, Inner, Pane } from "../parts/Bench";
import { Button } from "../parts/Button";
import { count, day, moment } from "../parts/format";
import { Said } from "../parts/Said";
import { Skeleton, ErrorNote } from "../parts/States";
import { Tabs } from "../parts/Tabs";
import { WhyPane } from "../parts/WhyPane";
import { useSession } from "../common/session";
import { Answers } from "./Answers";
import { ColumnChoice } from "./ColumnChoice";
import { DraftSide } from "./DraftSide";
import { Editions } from "./Editions";
import { Holes } from "./Holes";
import { useCheck, useRouting } from "./queries";
import { RuleEditor } from "./RuleEditor";
import { AddRule, RuleTable } from "./RuleTable";
import { saidOfAll, type Chosen, type Finding, type Routing, type Sheet } from "./sheet";
import { SheetTerms } from "./SheetTerms";
import { Teams } from "./Teams";
import { Trial } from "./Trial";
import { useDraft, type Draft } from "./useDraft";

const Waiting = styled.ul`
  list-style: none;
  padding: 0;
  font-size: 14px;
  li {
    padding: 7px 0;
    border-bottom: 1px solid var(--hair);
  }
`;

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
  if (routing.isPending) return <Skeleton />;
  if (routing.isError) return <ErrorNote error={routing.error} />;
  return <Sheets routing={routing.data} />;
}

function Sheets({ routing }: { routing: Routing }) {
  const maySetUp = useSession().may.includes("setUp");
  const draft = useDraft(routing);
  const [asked, setAsked] = useSearchParams();
  const shown = tabs.find((t) => t.key === asked.get("show"))?.key ?? "rules";
  const [chosen, setChosen] = useState<Chosen>(null);
  const sheet = draft.body ?? routing.live.sheet;
  const check = useCheck(sheet, maySetUp);
  const show = (key: Shown) => (setAsked(key === "rules" ? {} : { show: key }), setChosen(null));
  const findings = check.data?.findings ?? [];
  const change = maySetUp ? draft.change : undefined;
  // Both have the tried sheet; who may not set up only reads.
  const reachable = maySetUp ? tabs : tabs.filter((t) => t.key !== "trial");
  return (
    <Bench>
      <Pane $sheet tabIndex={0} aria-label={tabs.find((t) => t.key === shown)!.label}>
        <Inner>
          <Tabs label="Routing" tabs={reachable} at={shown} onChoose={show} />
          {shown === "rules" && (
            <Rules routing={routing} draft={draft} sheet={sheet} findings={findings} whole={check.data?.whole ?? true} words={check.data?.words} holes={check.data?.holes.length} chosen={chosen} onChoose={setChosen} onChange={change} />
          )}
          {shown === "teams" && <Teams routing={routing} maySetUp={maySetUp} />}
          {shown === "answers" && <Answers />}
          {shown === "trial" && maySetUp && <Trial sheet={sheet} isDraft={!!draft.body} names={routing.names} />}
          {shown === "editions" && <Editions draft={draft} maySetUp={maySetUp} />}
        </Inner>
      </Pane>
      <Right routing={routing} draft={draft} sheet={sheet} findings={check.data?.findings} chosen={chosen} onChoose={setChosen} onChange={change} onTrial={() => show("trial")} />
    </Bench>
  );
}

type RulesProps = {
  routing: Routing;
  draft: Draft;
  sheet: Sheet;
  findings: readonly Finding[];
  whole: boolean;
  words?: Routing["live"]["words"];
  holes?: number;
  chosen: Chosen;
  onChoose: (chosen: Chosen) => void;
  onChange?: (sheet: Sheet) => void;
};

function Rules({ routing, draft, sheet, findings, whole, words, holes, chosen, onChoose, onChange }: RulesProps) {
  const fields = useFields().data ?? [];
  const add = (next: Sheet) => {
    onChange?.(next);
    onChoose({ kind: "rule", at: next.rules.length - 1 });
  };
  return (
    <>
      <Head>
        <div>
          <h1>{draft.body ? `Draft after edition ${routing.edition}` : `Rule sheet, edition ${routing.edition}`}</h1>
          <p>
            {draft.body ? "Not live. " : `Live since ${day(routing.publishedAt)}${routing.publishedBy ? `, by ${routing.publishedBy}` : ""}. `}
            The first rule that fits decides. Hits are leads of the last 90 days.
          </p>
        </div>
        {onChange && (
          <div style={{ display: "flex", gap: 10 }}>
            <ColumnChoice sheet={sheet} fields={fields.filter((f) => f.origin !== "around")} onChange={onChange} />
            <AddRule sheet={sheet} onAdd={add} />
          </div>
        )}
      </Head>
      <Said findings={saidOfAll(findings)} />
      {!whole && <p style={{ fontSize: 14 }}>These rules are so entangled that they could not be checked to the end. What is said below holds; more may be wrong.</p>}
      <RuleTable
        sheet={sheet}
        words={words ?? (draft.body ? (routing.draft?.shown.words ?? []) : routing.live.words)}
        findings={findings}
        routing={routing}
        fields={fields}
        chosen={chosen}
        holes={holes}
        onChoose={onChoose}
        onChange={onChange}
      />
    </>
  );
}

type RightProps = {
  routing: Routing;
  draft: Draft;
  sheet: Sheet;
  findings: readonly Finding[] | undefined;
  chosen: Chosen;
  onChoose: (chosen: Chosen) => void;
  onChange?: (sheet: Sheet) => void;
  onTrial: () => void;
};

function Right({ routing, draft, sheet, findings, chosen, onChoose, onChange, onTrial }: RightProps) {
  const fields = (useFields().data ?? []).filter((f) => f.origin !== "around");
  const back = (
    <p style={{ marginTop: 16 }}>
      <Button look="quiet" style={{ padding: 0 }} onPress={() => onChoose(null)}>
        {draft.body ? "What this draft would change" : "Close"}
      </Button>
    </p>
  );
  const rule = chosen?.kind === "rule" ? sheet.rules[chosen.at] : undefined;
  if (chosen?.kind === "rule" && rule)
    return (
      <WhyPane title={`Rule ${chosen.at + 1}`}>
        <RuleEditor key={rule.key} sheet={sheet} at={chosen.at} names={routing.names} fields={fields} findings={findings ?? []} onChange={onChange} onMoved={(at) => onChoose({ kind: "rule", at })} onGone={() => onChoose(null)} />
        {back}
      </WhyPane>
    );
  if (chosen?.kind === "terms")
    return (
      <WhyPane title="Before the rules, and for all of them">
        <SheetTerms sheet={sheet} names={routing.names} findings={findings ?? []} onChange={onChange} />
        {back}
      </WhyPane>
    );
  if (chosen?.kind === "holes" && onChange)
    return (
      <WhyPane title="What no rule takes">
        <Holes sheet={sheet} />
        {back}
      </WhyPane>
    );
  if (draft.body)
    return (
      <WhyPane title="What this draft would change">
        <DraftSide draft={draft} sheet={sheet} findings={findings} number={routing.draft?.number ?? routing.edition + 1} onTrial={onTrial} />
      </WhyPane>
    );
  return <WaitingLeads routing={routing} />;
}

function WaitingLeads({ routing }: { routing: Routing }) {
  const { timeZone } = useSession();
  const { waiting } = routing;
  return (
    <WhyPane title={waiting.length ? `${count(waiting.length, "lead")} without a rule` : "Every lead found its rule"}>
      <p style={{ fontSize: 14, color: "var(--soft)", marginBottom: 8 }}>{waiting.length ? "No rule fits these. Give them to somebody by hand, or cover the hole." : "Leads that no rule fits wait here and on the Desk."}</p>
      <Waiting>
        {waiting.map((w) => (
          <li key={w.id}>
            <Link to={`/leads/${w.id}`}>{w.name}</Link>
            <Cap>
              {w.country ?? "country not known"}, since {moment(w.since, timeZone)}
            </Cap>
          </li>
        ))}
      </Waiting>
    </WhyPane>
  );
}
