import styled from "styled-components";
import type { Schema } from "../api/client";
import { Button } from "../parts/Button";
import { points } from "../parts/format";
import { small } from "../parts/theme";
import { about, keyFor, range, type Chosen, type Finding, type Model } from "./model";

const List = styled.ol`
  list-style: none;
  padding: 0;
  margin: 2px 0 22px;
  font-size: 14px;
  li {
    border-bottom: 1px solid var(--hair);
  }
`;

const Row = styled.button`
  display: grid;
  grid-template-columns: 1fr auto 64px;
  gap: 10px;
  align-items: center;
  width: 100%;
  padding: 6px 0;
  border: 0;
  background: none;
  text-align: left;
  cursor: pointer;
  &[aria-pressed="true"] {
    color: var(--slate);
    font-weight: 650;
  }
  &:hover span:first-child {
    text-decoration: underline;
    text-underline-offset: 3px;
  }
  b {
    font-weight: 640;
    white-space: nowrap;
  }
  small {
    ${small}
    text-align: right;
  }
  mark {
    background: none;
    color: var(--bad);
    font-weight: 640;
  }
  mark[data-odd] {
    color: var(--lamp-ink);
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

/** The model as two short tables; what is chosen is shown whole at the right. */
export function ModelList({ model, findings, outcomes, chosen, onChoose, onChange }: Props) {
  const is = (kind: "fit" | "engagement", at: number) => chosen?.kind === kind && chosen.at === at;
  const choose = (kind: "fit" | "engagement", at: number) => onChoose(is(kind, at) ? null : { kind, at });
  const addCriterion = () => {
    const key = keyFor("criterion", model.fit.map((c) => c.key));
    onChange?.({ ...model, fit: [...model.fit, { key, label: "New criterion", field: "", lines: [], group: "" }] });
    onChoose({ kind: "fit", at: model.fit.length });
  };
  const addSignal = () => {
    onChange?.({ ...model, engagement: [...model.engagement, { kind: "", label: "New signal", points: 10, halfLifeDays: 30, cap: 30, windowDays: 30, once: false, pattern: "", direction: "", campaignKind: "" }] });
    onChoose({ kind: "engagement", at: model.engagement.length });
  };
  return (
    <>
      <Head>
        <h2>Fit</h2>
        <small>points{outcomes ? " · worth" : ""}</small>
      </Head>
      <List>
        {model.fit.map((c, i) => {
          const { least, most } = range(c);
          const worth = outcomes?.criteria.find((w) => w.key === c.key);
          return (
            <li key={c.key}>
              <Row type="button" aria-pressed={is("fit", i)} onClick={() => choose("fit", i)}>
                <span>
                  {c.label} <Mark findings={about(findings, `fit/${i}`)} />
                </span>
                <b>{pointsOf(least, most)}</b>
                {worth ? (
                  <Worth title={`Tells ${worth.information.toFixed(2)} of what became of leads${worth.verdict === "opposite" ? ", but the opposite of its points" : ""}`}>
                    <i style={{ width: `${Math.min(100, (worth.information / strong) * 100)}%` }} data-bad={worth.verdict === "opposite" || undefined} />
                  </Worth>
                ) : (
                  <span />
                )}
              </Row>
            </li>
          );
        })}
        {onChange && (
          <li style={{ border: 0, paddingTop: 4 }}>
            <Button look="quiet" onPress={addCriterion} style={{ padding: 0 }}>
              Add a criterion
            </Button>
          </li>
        )}
      </List>
      <Head>
        <h2>Engagement</h2>
        <small>points, halve in</small>
      </Head>
      <List>
        {model.engagement.map((s, i) => (
          <li key={i}>
            <Row type="button" aria-pressed={is("engagement", i)} onClick={() => choose("engagement", i)}>
              <span>
                {s.label} <Mark findings={about(findings, `engagement/${i}`)} />
              </span>
              <b>{points(s.points)}</b>
              <small>{s.halfLifeDays} d</small>
            </Row>
          </li>
        ))}
        {onChange && (
          <li style={{ border: 0, paddingTop: 4 }}>
            <Button look="quiet" onPress={addSignal} style={{ padding: 0 }}>
              Add a signal
            </Button>
          </li>
        )}
      </List>
      <List>
        <li>
          <Row type="button" aria-pressed={chosen?.kind === "around"} onClick={() => onChoose(chosen?.kind === "around" ? null : { kind: "around" })}>
            <span>
              For all leads <Mark findings={["bars", "silence", "names", "groups", "vetoes", ""].flatMap((p) => (p === "" ? findings.filter((f) => f.problem.path === "") : about(findings, p)))} />
            </span>
            <small style={{ gridColumn: "2 / 4", whiteSpace: "nowrap" }}>{aroundWords(model)}</small>
          </Row>
        </li>
      </List>
    </>
  );
}

const aroundWords = (model: Model) =>
  [model.silence && `silence ${points(model.silence.points)}`, model.vetoes.length > 0 && `${model.vetoes.length} ruled out`, model.groups.length > 0 && `${model.groups.length} ${model.groups.length === 1 ? "cap" : "caps"}`].filter(Boolean).join(", ");

/** A word for what is wrong, or may not be meant. */
function Mark({ findings }: { findings: readonly Finding[] }) {
  if (findings.length === 0) return null;
  const blocks = findings.some((f) => f.blocks);
  return (
    <mark data-odd={blocks ? undefined : true} title={findings.map((f) => f.words).join("\n")}>
      {blocks ? "mend" : "look"}
    </mark>
  );
}

