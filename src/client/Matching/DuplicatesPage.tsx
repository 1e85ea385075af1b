import { useNavigate, useParams } from "react-router";
import styled from "styled-components";
import { Link } from "react-router";
import { AwaitedSheet } from "../parts/AwaitedSheet";
import { Bench, Pane } from "../parts/Bench";
import { Button } from "../parts/Button";
import { count, whole } from "../parts/format";
import { Empty, Skeleton, ErrorNote } from "../parts/States";
import { small } from "../parts/theme";
import { useAct } from "../common/acting";
import { Merged } from "./Merged";
import { stillLooking, duplicateActs, useDuplicate, useDuplicates, type Duplicate } from "./queries";
import { SideBySide, type Settle } from "./SideBySide";

const Row = styled(Link)`
  display: grid;
  grid-template-columns: minmax(0, 1fr) 44px;
  gap: 10px;
  padding: 9px 18px;
  border-bottom: 1px solid var(--hair);
  color: inherit;
  text-decoration: none;
  &[aria-current] {
    background: var(--sheet);
    box-shadow: inset 4px 0 0 var(--slate);
  }
  &:hover {
    background: var(--sheet);
  }
  span {
    min-width: 0;
  }
  b {
    font-weight: 610;
    display: block;
  }
  small {
    ${small}
    display: -webkit-box;
    -webkit-box-orient: vertical;
    -webkit-line-clamp: 2;
    overflow: hidden;
  }
  .n {
    text-align: right;
    font-variant-numeric: tabular-nums;
    ${small}
  }
`;

const Top = styled.div`
  padding: 18px 18px 12px;
  border-bottom: 1px solid var(--hair);
  p {
    ${small}
    margin-top: 4px;
  }
`;

/** Pairs that may be one at the left, one pair side by side in the middle, the evidence at the right. */
export function DuplicatesPage() {
  const { id } = useParams();
  const navigate = useNavigate();
  const duplicates = useDuplicates();
  const list = duplicates.data?.duplicates ?? [];
  const chosen = id ?? list[0]?.id;
  const at = list.findIndex((t) => t.id === chosen);
  // The next one comes up by itself; after the last, the first that is left.
  const next = () => {
    const to = list[at + 1] ?? list.find((t) => t.id !== chosen);
    void navigate(to ? `/leads/duplicates/${to.id}` : "/leads/duplicates", { replace: true });
  };
  return (
    <Bench>
      <Pane $width={300} aria-label="Pairs that may be one" data-landing="list">
        <Top>
          <h2>{duplicates.data ? `${count(duplicates.data.all, "pair")} to settle` : "Duplicates"}</h2>
          {duplicates.data && <Looking looking={duplicates.data.looking} />}
        </Top>
        {duplicates.isPending && <Skeleton rows={6} />}
        {duplicates.isError && <ErrorNote error={duplicates.error} />}
        {duplicates.data?.all === 0 && <Empty>Two records that may be one person or company wait here with the evidence. There are none.</Empty>}
        {list.map((t) => (
          <PairRow key={t.id} duplicate={t} current={t.id === chosen} />
        ))}
        {duplicates.data && duplicates.data.all > list.length && <Empty>{whole(duplicates.data.all - list.length)} more with less evidence come up as these are settled.</Empty>}
        <Merged />
      </Pane>
      {chosen ? <Chosen key={chosen} id={chosen} onNext={next} /> : <Pane $sheet />}
    </Bench>
  );
}

function PairRow({ duplicate, current }: { duplicate: Duplicate; current: boolean }) {
  return (
    <Row to={`/leads/duplicates/${duplicate.id}`} aria-current={current || undefined}>
      <span>
        <b>{duplicate.a === duplicate.b ? duplicate.a : `${duplicate.a} · ${duplicate.b}`}</b>
        <small title={duplicate.words}>
          {duplicate.kind !== "lead" && `${duplicate.kind}s: `}
          {duplicate.words}
        </small>
      </span>
      <span className="n" title="Bits of evidence">
        {duplicate.bits.toFixed(1)}
      </span>
    </Row>
  );
}

function Looking({ looking }: { looking: { done: number; all: number; due: number } }) {
  const act = useAct();
  const look = () => void act.run(duplicateActs.look, { changes: ["duplicates"] });
  if (stillLooking(looking))
    return (
      <p role="status">
        Looking: {whole(looking.done)} of {whole(looking.all)} leads{looking.due ? `, ${whole(looking.due)} records again` : ""}
      </p>
    );
  return (
    <p role="status">
      All {whole(looking.all)} leads were looked at.{" "}
      <Button look="inline" isPending={act.busy} onPress={look}>
        Look again
      </Button>
    </p>
  );
}

function Chosen({ id, onNext }: { id: string; onNext: () => void }) {
  const duplicate = useDuplicate(id);
  const act = useAct();
  const settle: Settle = (work, words, back) => void act.run(work, { changes: ["duplicates"], words, back, then: onNext });
  if (duplicate.isPending || duplicate.isError) return <AwaitedSheet error={duplicate.error} />;
  return <SideBySide duplicate={duplicate.data} busy={act.busy} onSettle={settle} />;
}
