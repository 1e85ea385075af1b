import styled from "styled-components";
import type { Schema } from "../api/client";
import { Button } from "../parts/Button";
import { points } from "../parts/format";
import { small } from "../parts/theme";
import { about, keyFor, range, type Chosen, type Finding, type Model } from "./model";
import { ModelRow } from "./ModelRow";

const List = styled.ol`
  list-style: none;
  padding: 0;
  margin: 2px 0 22px;
  font-size: 14px;
  li {
    border-bottom: 1px solid var(--hair);
  }
  li.add {
    border: 0;
    padding-top: 4px;
  }
`;

const Head = styled.div`
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  small {
    ${small}
  }
`;

const Worth = styled.span`
  height: 6px;
  background: var(--hair);
  border-radius: 1px;
  i {
    display: block;
    height: 6px;
    background: var(--slate);
    border-radius: 1px;
  }
  i[data-bad] {
    background: var(--bad);
  }
`;

const strong = 0.5;

type Props = {
  model: Model;
  findings: readonly Finding[];
  /** What outcomes say of each criterion; without it no bars. */
  outcomes?: Schema["OutcomeReport"];
  chosen: Chosen;
  onChoose: (chosen: Chosen) => void;
  onChange?: (model: Model) => void;
};

const pointsOf = (least: number, most: number) => (least < 0 && most > 0 ? `\u2212${-least} to ${most}` : least < 0 ? points(least) : `0 to ${most}`);

const is = (chosen: Chosen, kind: "fit" | "engagement", at: number) => chosen?.kind === kind && chosen.at === at;

/** The model as two short tables; what is chosen is shown whole at the right. */
export function ModelList(props: Props) {
  const { model, findings, chosen, onChoose } = props;
  const aroundFindings = ["bars", "silence", "names", "groups", "vetoes"].flatMap((p) => about(findings, p));
  const isAround = chosen?.kind === "around";
  return (
    <>
      <Criteria {...props} />
      <Signals {...props} />
      <List>
        <li>
          <ModelRow label="For all leads" findings={[...findings.filter((f) => f.problem.path === ""), ...aroundFindings]} isChosen={isAround} onChoose={() => onChoose(isAround ? null : { kind: "around" })}>
            <small className="wide">{aroundWords(model)}</small>
          </ModelRow>
        </li>
      </List>
    </>
  );
}

const Add = ({ words, onPress }: { words: string; onPress: () => void }) => (
  <li className="add">
    <Button look="inline" onPress={onPress}>
      {words}
    </Button>
  </li>
);

function Criteria({ model, findings, outcomes, chosen, onChoose, onChange }: Props) {
  const add = () => {
    const key = keyFor("criterion", model.fit.map((c) => c.key));
    onChange?.({ ...model, fit: [...model.fit, { key, label: "New criterion", field: "", lines: [], group: "" }] });
    onChoose({ kind: "fit", at: model.fit.length });
  };
  return (
    <>
      <Head>
        <h2>Fit</h2>
        <small>points{outcomes ? " · worth" : ""}</small>
      </Head>
      <List>
        {model.fit.map((c, at) => {
          const { least, most } = range(c);
          return (
            <li key={c.key}>
              <ModelRow label={c.label} findings={about(findings, `fit/${at}`)} isChosen={is(chosen, "fit", at)} onChoose={() => onChoose(is(chosen, "fit", at) ? null : { kind: "fit", at })}>
                <b>{pointsOf(least, most)}</b>
                <WorthBar worth={outcomes?.criteria.find((w) => w.key === c.key)} />
              </ModelRow>
            </li>
          );
        })}
        {onChange && <Add words="Add a criterion" onPress={add} />}
      </List>
    </>
  );
}

function WorthBar({ worth }: { worth?: Schema["CriterionWorth"] }) {
  if (!worth) return <span />;
  const opposite = worth.verdict === "opposite";
  return (
    <Worth title={`Tells ${worth.information.toFixed(2)} of what became of leads${opposite ? ", but the opposite of its points" : ""}`}>
      <i style={{ width: `${Math.min(100, (worth.information / strong) * 100)}%` }} data-bad={opposite || undefined} />
    </Worth>
  );
}

const freshSignal = { kind: "", label: "New signal", points: 10, halfLifeDays: 30, cap: 30, windowDays: 30, once: false, pattern: "", direction: "", campaignKind: "" };

function Signals({ model, findings, chosen, onChoose, onChange }: Props) {
  const add = () => {
    onChange?.({ ...model, engagement: [...model.engagement, freshSignal] });
    onChoose({ kind: "engagement", at: model.engagement.length });
  };
  return (
    <>
      <Head>
        <h2>Engagement</h2>
        <small>points, halve in</small>
      </Head>
      <List>
        {model.engagement.map((s, at) => (
          <li key={at}>
            <ModelRow label={s.label} findings={about(findings, `engagement/${at}`)} isChosen={is(chosen, "engagement", at)} onChoose={() => onChoose(is(chosen, "engagement", at) ? null : { kind: "engagement", at })}>
              <b>{points(s.points)}</b>
              <small>{s.halfLifeDays} d</small>
            </ModelRow>
          </li>
        ))}
        {onChange && <Add words="Add a signal" onPress={add} />}
      </List>
    </>
  );
}

const aroundWords = (model: Model) =>
  [model.silence && `silence ${points(model.silence.points)}`, model.vetoes.length > 0 && `${model.vetoes.length} ruled out`, model.groups.length > 0 && `${model.groups.length} ${model.groups.length === 1 ? "cap" : "caps"}`].filter(Boolean).join(", ");
