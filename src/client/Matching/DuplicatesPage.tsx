import { useNavigate, useParams } from "react-router";
import styled from "styled-components";
import { Link } from "react-router";
import { AwaitedSheet } from "../parts/AwaitedSheet";
import { Bench, Pane } from "../parts/Bench";
import { Button } from "../parts/Button";
import { count, whole } from "../parts/format";
import { Empty, Skeleton, ErrorNote } from "../parts/States";
import { tell, tellError } from "../parts/Toast";
import { small } from "../parts/theme";
import { useRefresh } from "../common/session";
import { Merged } from "./Merged";
import { stillLooking, duplicateActs, useDuplicate, useDuplicates, type Duplicate } from "./queries";
import { SideBySide } from "./SideBySide";

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
      <Pane $width={300} aria-label="Pairs that may be one">
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
      <span style={{ minWidth: 0 }}>
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
  const refresh = useRefresh();
  const look = async () => {
    try {
      await duplicateActs.look();
      await refresh();
    } catch (e) {
      tellError(e);
    }
  };
  if (stillLooking(looking))
    return (
      <p role="status">
        Looking: {whole(looking.done)} of {whole(looking.all)} leads{looking.due ? `, ${whole(looking.due)} records again` : ""}
      </p>
    );
  return (
    <p role="status">
      All {whole(looking.all)} leads were looked at.{" "}
      <Button look="quiet" style={{ minHeight: 0, padding: 0 }} onPress={() => void look()}>
        Look again
      </Button>
    </p>
  );
}

function Chosen({ id, onNext }: { id: string; onNext: () => void }) {
  const refresh = useRefresh();
  const duplicate = useDuplicate(id);
  const settle = async (act: () => Promise<unknown>, told: string, undo: (done: unknown) => Promise<unknown>) => {
    try {
      const done = await act();
      tell(told, () => undo(done).then(refresh));
      onNext();
    } catch (e) {
      tellError(e);
    }
    await refresh();
  };
  if (duplicate.isPending || duplicate.isError) return <AwaitedSheet error={duplicate.error} />;
  return <SideBySide duplicate={duplicate.data} onSettle={settle} />;
}
