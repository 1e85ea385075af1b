import styled from "styled-components";
import type { Schema } from "../api/client";
import { Button } from "../parts/Button";
import { ChoiceBox, TextBox } from "../parts/Field";
import { Fold } from "../parts/Fold";
import { count } from "../parts/format";
import { MaybeNumberBox, NumberBox } from "../common/NumberBox";
import { Ticks } from "../parts/Ticks";
import { unseen } from "../parts/theme";

type Stage = Schema["StageSetup"];
type Props = { stages: Stage[]; needs: Schema["ChoiceView"][]; onChange: (stages: Stage[]) => void; error?: string; errorOf: (i: number) => string | undefined };

const Row = styled.div`
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
  /* Said once, above the first; further down the names are only read out. */
  &:not(:first-of-type) > div:not(.all) :is(label, .react-aria-Label) {
    ${unseen}
  }
`;

const counts = [
  { key: "open", label: "open" },
  { key: "won", label: "won" },
  { key: "lost", label: "lost" },
];
const colours = ["slate", "lamp", "good", "bad", "ink"].map((key) => ({ key, label: key }));

/** Open stages stand before those in which a deal is won or lost; neither moves among the other. */
const group = (s: Stage) => s.counts === "open";

/** The stages in their order, each with what a deal needs before it enters. */
export function StageRows({ stages, needs, onChange, error, errorOf }: Props) {
  const put = (i: number, change: Partial<Stage>) => onChange(stages.map((s, at) => (at === i ? { ...s, ...change } : s)));
  const move = (i: number, by: number) => {
    const next = [...stages];
    next.splice(i + by, 0, ...next.splice(i, 1));
    onChange(next);
  };
  return (
    <>
      {stages.map((s, i) => (
        <Row key={i}>
          <i aria-hidden style={{ background: `var(--${s.colour})` }} />
          <TextBox label="Stage" value={s.name} onChange={(name) => put(i, { name })} error={errorOf(i)} />
          <NumberBox label={`Probability of ${s.name || "the stage"}, %`} shown="Probability, %" value={s.probability} least={0} most={100} whole onChange={(probability) => put(i, { probability })} />
          <ChoiceBox label="Counts as" value={s.counts} options={counts} onChange={(c) => put(i, { counts: c })} />
          <MaybeNumberBox label={`Days in ${s.name || "the stage"}`} shown="Days in it" value={s.days ?? undefined} least={0} most={3650} whole onChange={(days) => put(i, { days: days ?? null })} />
          <ChoiceBox label="Colour" value={s.colour} options={colours} onChange={(colour) => put(i, { colour })} />
          <span style={{ whiteSpace: "nowrap" }}>
            <Button look="quiet" aria-label={`${s.name} up`} isDisabled={i === 0 || group(stages[i - 1]!) !== group(s)} onPress={() => move(i, -1)}>
              ↑
            </Button>
            <Button look="quiet" aria-label={`${s.name} down`} isDisabled={i === stages.length - 1 || group(stages[i + 1]!) !== group(s)} onPress={() => move(i, 1)}>
              ↓
            </Button>
            <Button look="quiet" aria-label={`Leave out ${s.name}`} isDisabled={(s.deals ?? 0) > 0} onPress={() => onChange(stages.filter((_, at) => at !== i))}>
              ×
            </Button>
          </span>
          <div className="all">
            <Fold title={`${s.needs.length ? `Needs ${s.needs.map((n) => (needs.find((x) => x.key === n)?.label ?? n).toLowerCase()).join(", ")}` : "Needs nothing"}${(s.deals ?? 0) > 0 ? `; ${count(s.deals ?? 0, "deal")} in it` : ""}`}>
              <Ticks label={`Before a deal is in ${s.name} it needs`} options={needs.map((n) => ({ key: n.key, label: n.label }))} value={s.needs} onChange={(keys) => put(i, { needs: keys })} />
            </Fold>
          </div>
        </Row>
      ))}
      <Button
        look="quiet"
        onPress={() => {
          const at = stages.findIndex((s) => s.counts !== "open");
          const next = [...stages];
          next.splice(at < 0 ? stages.length : at, 0, { key: "", name: "", probability: 50, counts: "open", colour: "slate", days: null, needs: [], deals: 0 });
          onChange(next);
        }}
      >
        Add a stage
      </Button>
      {error && (
        <p role="alert" style={{ color: "var(--bad)", fontSize: 13 }}>
          {error}
        </p>
      )}
    </>
  );
}
