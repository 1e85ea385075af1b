import { Button } from "../parts/Button";
import { CountLines } from "../parts/CountLines";
import { count, day, whole } from "../parts/format";
import { Block } from "../parts/Layout";
import { Said } from "../parts/Said";
import { Skeleton } from "../parts/States";
import { Text, Wrong } from "../parts/Words";
import { DraftActs } from "../common/DraftActs";
import { usePlay } from "./queries";
import type { Finding, Sheet } from "./sheet";
import type { Draft } from "./useDraft";

const last = 2000;

type Props = { draft: Draft; sheet: Sheet; findings: readonly Finding[] | undefined; number: number; onTrial: () => void };

/** What the draft would change against what happened, and the way to make it live. */
export function DraftSide({ draft, sheet, findings, number, onTrial }: Props) {
  const play = usePlay(sheet, last);
  const blocks = findings?.filter((f) => f.blocks) ?? [];
  return (
    <DraftActs draft={draft} number={number} isChecked={!!findings} toMend={blocks.length}>
      {play.isPending ? <Skeleton rows={4} /> : play.isError ? <Wrong>{play.error.message}</Wrong> : <Changes play={play.data} onTrial={onTrial} />}
      {blocks.length > 0 && <Said findings={blocks.slice(0, 3)} />}
    </DraftActs>
  );
}

type Play = NonNullable<ReturnType<typeof usePlay>["data"]>;

function Changes({ play, onTrial }: { play: Play; onTrial: () => void }) {
  const teams = play.teams.filter((t) => t.now !== t.then);
  return (
    <>
      <Text $below={2}>
        Of the last {count(play.leads, "lead")}
        {play.from ? `, since ${day(play.from)}` : ""}, {whole(play.changed)} would go to somebody else than they did.
      </Text>
      <CountLines>
        {teams.map((t) => (
          <li key={t.key}>
            <span>{t.name}</span>
            <span>
              {whole(t.then)} <small>to</small> <b>{whole(t.now)}</b>
            </span>
          </li>
        ))}
        <li>
          <span>no rule, or held</span>
          <b>{whole(play.noRule + play.held)}</b>
        </li>
      </CountLines>
      <Block as="p" $below={3}>
        <Button look="inline" onPress={onTrial}>
          Who, by person and lead
        </Button>
      </Block>
    </>
  );
}
