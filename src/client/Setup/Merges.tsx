import type { Schema } from "../api/client";
import { useAct } from "../common/acting";
import { useSession } from "../common/session";
import { Button } from "../parts/Button";
import { count, moment } from "../parts/format";
import { Block, Plain, Row } from "../parts/Layout";
import { Title } from "../parts/Words";

type Merge = Schema["ValueMergeView"];
type Undo = (id: string) => Promise<unknown>;
type Props = { merges: readonly Merge[]; nameOf?: (list: string) => string; onUndo: Undo };

/** Values that another one stands for by now; each merge can be taken back. */
export function Merges({ merges, nameOf, onUndo }: Props) {
  if (merges.length === 0) return null;
  return (
    <Block as="section" aria-label="Merged" $below={9} $width={900}>
      <Title $below={2}>Merged</Title>
      <Plain $gap={1}>
        {merges.map((m) => (
          <Merged key={m.id} merge={m} list={nameOf?.(m.list)} onUndo={onUndo} />
        ))}
      </Plain>
    </Block>
  );
}

function Merged({ merge: m, list, onUndo }: { merge: Merge; list?: string; onUndo: Undo }) {
  const act = useAct();
  const { timeZone } = useSession();
  const undo = () => void act.run(() => onUndo(m.id), { changes: ["lists", "setup", "deal"], words: `${m.from} is there again.` });
  return (
    <Row as="li" $gap={3}>
      <span>
        “{m.into}” stands for “{m.from}”{list && ` (${list})`}, on {count(m.records, "record")}. {m.by}, {moment(m.at, timeZone)}.
      </span>
      <Button look="quiet" aria-label={`Part them: ${m.from} and ${m.into}`} isPending={act.busy} onPress={undo}>
        Part them
      </Button>
    </Row>
  );
}
