import { useFields } from "../common/fields";
import { Head } from "../parts/Bench";
import { day } from "../parts/format";
import { Row } from "../parts/Layout";
import { Said } from "../parts/Said";
import { Text } from "../parts/Words";
import { AddRule } from "./AddRule";
import { ColumnChoice } from "./ColumnChoice";
import { RuleTable } from "./RuleTable";
import { saidOfAll, type Chosen, type Finding, type Routing, type Sheet } from "./sheet";
import type { Draft } from "./useDraft";

type Props = {
  routing: Routing;
  draft: Draft;
  sheet: Sheet;
  findings: readonly Finding[];
  /** False where the checker could not come to an end. */
  whole: boolean;
  words?: Routing["live"]["words"];
  holes?: number;
  chosen: Chosen;
  onChoose: (chosen: Chosen) => void;
  onChange?: (sheet: Sheet) => void;
};

/** The rule sheet with what it says of itself, and the ways to add to it. */
export function Rules({ whole, ...props }: Props) {
  const { routing, draft, sheet, findings, words, holes, chosen, onChoose, onChange } = props;
  const fields = useFields().data ?? [];
  return (
    <>
      <Title {...props} />
      <Said findings={saidOfAll(findings)} />
      {!whole && <Text>These rules are so entangled that they could not be checked to the end. What is said below holds; more may be wrong.</Text>}
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

function Title({ routing, draft, sheet, onChoose, onChange }: Omit<Props, "whole">) {
  const fields = (useFields().data ?? []).filter((f) => f.origin !== "around");
  const add = (next: Sheet) => {
    onChange?.(next);
    onChoose({ kind: "rule", at: next.rules.length - 1 });
  };
  const live = `Live since ${day(routing.publishedAt)}${routing.publishedBy ? `, by ${routing.publishedBy}` : ""}.`;
  return (
    <Head>
      <div>
        <h1>{draft.body ? `Draft after edition ${routing.edition}` : `Rule sheet, edition ${routing.edition}`}</h1>
        <p>
          {draft.body ? "Not live." : live} The first rule that fits decides. Hits are leads of the last 90 days.
        </p>
      </div>
      {onChange && (
        <Row>
          <ColumnChoice sheet={sheet} fields={fields} onChange={onChange} />
          <AddRule sheet={sheet} onAdd={add} />
        </Row>
      )}
    </Head>
  );
}
