import styled from "styled-components";
import type { Schema } from "../api/client";
import { Button } from "../parts/Button";
import { ChoiceBox, TextBox } from "../parts/Field";
import { Fold } from "../parts/Fold";
import { count, readNumber } from "../parts/format";
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

/** The stages in their order, each with what a deal needs before it enters. */
export function StageRows({ stages, needs, onChange, error, errorOf }: Props) {
  const put = (i: number, change: Partial<Stage>) => onChange(stages.map((s, at) => (at === i ? { ...s, ...change } : s)));
  const move = (i: number, by: number) => {
    const next = [...stages];
    next.splice(i + by, 0, ...next.splice(i, 1));
    onChange(next);
  };
  const number = (text: string) => (Number.isNaN(readNumber(text)) ? 0 : Math.round(readNumber(text)));
  return (
    <>
      {stages.map((s, i) => (
        <Row key={i}>
          <i aria-hidden style={{ background: `var(--${s.colour})` }} />
          <TextBox label="Stage" value={s.name} onChange={(name) => put(i, { name })} error={errorOf(i)} />
          <TextBox label="Probability, %" inputMode="numeric" value={String(s.probability)} onChange={(t) => put(i, { probability: number(t) })} />
          <ChoiceBox label="Counts as" value={s.counts} options={counts} onChange={(c) => put(i, { counts: c })} />
          <TextBox label="Days in it" inputMode="numeric" value={s.days === null ? "" : String(s.days)} onChange={(t) => put(i, { days: t.trim() === "" ? null : number(t) })} />
          <ChoiceBox label="Colour" value={s.colour} options={colours} onChange={(colour) => put(i, { colour })} />
          <span style={{ whiteSpace: "nowrap" }}>
            <Button look="quiet" aria-label={`${s.name} up`} isDisabled={i === 0} onPress={() => move(i, -1)}>
              ↑
            </Button>
            <Button look="quiet" aria-label={`${s.name} down`} isDisabled={i === stages.length - 1} onPress={() => move(i, 1)}>
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
