import { Link } from "react-router";
import styled from "styled-components";
import { ChosenPane, type ChosenPart } from "../common/ChosenPane";
import { useFields } from "../common/fields";
import { useSession } from "../common/session";
import { Cap } from "../parts/Bench";
import { count, moment } from "../parts/format";
import { WhyPane } from "../parts/WhyPane";
import { Hint } from "../parts/Words";
import { DraftSide } from "./DraftSide";
import { Holes } from "./Holes";
import { RuleEditor } from "./RuleEditor";
import type { Chosen, Finding, Routing, Sheet } from "./sheet";
import { SheetTerms } from "./SheetTerms";
import type { Draft } from "./useDraft";

const Waiting = styled.ul`
  list-style: none;
  padding: 0;
  font-size: 14px;
  li {
    padding: 7px 0;
    border-bottom: 1px solid var(--hair);
  }
`;

type Props = {
  routing: Routing;
  draft: Draft;
  sheet: Sheet;
  findings: readonly Finding[] | undefined;
  chosen: Chosen;
  onChoose: (chosen: Chosen) => void;
  onChange?: (sheet: Sheet) => void;
  onTrial: () => void;
};

/** At the right of the sheet: what is chosen on it, what its draft would change, or the leads it left waiting. */
export function RoutingSide(props: Props) {
  const { routing, draft, sheet, findings, onChoose, onTrial } = props;
  const number = routing.draft?.number ?? routing.edition + 1;
  return (
    <ChosenPane chosen={useChosen(props)} onClose={() => onChoose(null)} draft={draft.body && <DraftSide draft={draft} sheet={sheet} findings={findings} number={number} onTrial={onTrial} />}>
      <WaitingLeads routing={routing} />
    </ChosenPane>
  );
}

function useChosen({ routing, sheet, findings = [], chosen, onChoose, onChange }: Props): ChosenPart | undefined {
  const fields = (useFields().data ?? []).filter((f) => f.origin !== "around");
  const rule = chosen?.kind === "rule" ? sheet.rules[chosen.at] : undefined;
  if (chosen?.kind === "rule" && rule)
    return {
      title: `Rule ${chosen.at + 1}`,
      body: <RuleEditor key={rule.key} sheet={sheet} at={chosen.at} names={routing.names} fields={fields} findings={findings} onChange={onChange} onMoved={(at) => onChoose({ kind: "rule", at })} onGone={() => onChoose(null)} />,
    };
  if (chosen?.kind === "terms") return { title: "Before the rules, and for all of them", body: <SheetTerms sheet={sheet} names={routing.names} findings={findings} onChange={onChange} /> };
  if (chosen?.kind === "holes" && onChange) return { title: "What no rule takes", body: <Holes sheet={sheet} /> };
  return undefined;
}

function WaitingLeads({ routing: { waiting } }: { routing: Routing }) {
  const { timeZone } = useSession();
  return (
    <WhyPane title={waiting.length ? `${count(waiting.length, "lead")} without a rule` : "Every lead found its rule"}>
      <Hint $below={2}>{waiting.length ? "No rule fits these. Give them to somebody by hand, or cover the hole." : "Leads that no rule fits wait here and on the Desk."}</Hint>
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
