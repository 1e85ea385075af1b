import styled from "styled-components";
import type { Schema } from "../api/client";
import { MaybeNumberBox, NumberBox } from "../common/NumberBox";
import { Button } from "../parts/Button";
import { ChoiceBox, TextBox } from "../parts/Field";
import { Fold } from "../parts/Fold";
import { count } from "../parts/format";
import { unseen } from "../parts/theme";
import { Ticks } from "../parts/Ticks";
import { Unbroken, Wrong } from "../parts/Words";

type Stage = Schema["StageSetup"];
type Need = Schema["ChoiceView"];

const Row = styled.div<{ $colour: string }>`
  display: grid;
  grid-template-columns: 10px minmax(140px, 1fr) 92px 110px 90px 110px auto;
  gap: 2px 10px;
  align-items: end;
  padding: 10px 0;
  border-bottom: 1px solid var(--hair);
  & > i {
    width: 10px;
    height: 10px;
    margin-bottom: 12px;
    background: var(--${(p) => p.$colour});
  }
  .all {
    grid-column: 2 / -1;
  }
  .all details {
    border-top: 0;
    padding-top: 0;
  }
  .all summary {
    font-weight: 400;
  }
  @media (min-width: 768px) {
    /* Said once, above the first; further down the names are only read out. */
    &:not(:first-of-type) > div:not(.all) :is(label, .react-aria-Label) {
      ${unseen}
    }
  }
  @media (max-width: 767px) {
    grid-template-columns: 10px minmax(0, 1fr) minmax(0, 1fr);
    & > i {
      grid-row: span 4;
      align-self: start;
    }
  }
`;

const counts = [
  { key: "open", label: "open" },
  { key: "won", label: "won" },
  { key: "lost", label: "lost" },
];
const colours = ["slate", "lamp", "good", "bad", "ink"].map((key) => ({ key, label: key }));

/** Open stages stand before those in which a deal is won or lost; neither moves among the other. */
const group = (s?: Stage) => s?.counts === "open";

const fresh: Stage = { key: "", name: "", probability: 50, counts: "open", colour: "slate", days: null, needs: [], deals: 0 };

const moved = (stages: Stage[], i: number, by: number) => {
  const next = [...stages];
  next.splice(i + by, 0, ...next.splice(i, 1));
  return next;
};

const withOneMore = (stages: Stage[]) => {
  const at = stages.findIndex((s) => s.counts !== "open");
  const place = at < 0 ? stages.length : at;
  return [...stages.slice(0, place), fresh, ...stages.slice(place)];
};

type Props = { value: Stage[]; needs: Need[]; onChange: (stages: Stage[]) => void; error?: string; errorOf: (i: number) => string | undefined };

/** The stages in their order, each with what a deal needs before it enters. */
export function StageRows({ value, needs, onChange, error, errorOf }: Props) {
  const put = (i: number, change: Partial<Stage>) => onChange(value.map((s, at) => (at === i ? { ...s, ...change } : s)));
  return (
    <>
      {value.map((s, i) => (
        <Row key={i} $colour={s.colour}>
          <i aria-hidden />
          <StageFields stage={s} error={errorOf(i)} onChange={(change) => put(i, change)} />
          <Unbroken>
            <Button look="quiet" aria-label={`${s.name} up`} isDisabled={i === 0 || group(value[i - 1]) !== group(s)} onPress={() => onChange(moved(value, i, -1))}>
              ↑
            </Button>
            <Button look="quiet" aria-label={`${s.name} down`} isDisabled={i === value.length - 1 || group(value[i + 1]) !== group(s)} onPress={() => onChange(moved(value, i, 1))}>
              ↓
            </Button>
            <Button look="quiet" aria-label={`Leave out ${s.name}`} isDisabled={(s.deals ?? 0) > 0} onPress={() => onChange(value.filter((_, at) => at !== i))}>
              ×
            </Button>
          </Unbroken>
          <Needs stage={s} needs={needs} onChange={(change) => put(i, change)} />
        </Row>
      ))}
      <Button look="quiet" onPress={() => onChange(withOneMore(value))}>
        Add a stage
      </Button>
      {error && <Wrong>{error}</Wrong>}
    </>
  );
}

type FieldsProps = { stage: Stage; error?: string; onChange: (change: Partial<Stage>) => void };

function StageFields({ stage: s, error, onChange }: FieldsProps) {
  return (
    <>
      <TextBox label="Stage" value={s.name} onChange={(name) => onChange({ name })} error={error} />
      <NumberBox label={`Probability of ${s.name || "the stage"}, %`} shown="Probability, %" value={s.probability} least={0} most={100} whole onChange={(probability) => onChange({ probability })} />
      <ChoiceBox label="Counts as" value={s.counts} options={counts} onChange={(c) => onChange({ counts: c })} />
      <MaybeNumberBox label={`Days in ${s.name || "the stage"}`} shown="Days in it" value={s.days ?? undefined} least={0} most={3650} whole onChange={(days) => onChange({ days: days ?? null })} />
      <ChoiceBox label="Colour" value={s.colour} options={colours} onChange={(colour) => onChange({ colour })} />
    </>
  );
}

function Needs({ stage: s, needs, onChange }: Omit<FieldsProps, "error"> & { needs: Need[] }) {
  const named = s.needs.map((n) => (needs.find((x) => x.key === n)?.label ?? n).toLowerCase()).join(", ");
  const inIt = (s.deals ?? 0) > 0 ? `; ${count(s.deals ?? 0, "deal")} in it` : "";
  return (
    <div className="all">
      <Fold title={`${named ? `Needs ${named}` : "Needs nothing"}${inIt}`}>
        <Ticks label={`Before a deal is in ${s.name} it needs`} options={needs.map((n) => ({ key: n.key, label: n.label }))} value={s.needs} onChange={(keys) => onChange({ needs: keys })} />
      </Fold>
    </div>
  );
}
