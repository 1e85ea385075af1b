import styled from "styled-components";
import type { Schema } from "../api/client";
import { AddCondition, ConditionText } from "../Conditions/ConditionText";
import type { Condition, Field } from "../Conditions/conditions";
import { Button } from "../parts/Button";
import { TextBox } from "../parts/Field";
import { points } from "../parts/format";
import { about, keyFor, put, said, without, type Finding, type Model } from "./model";
import { NumberBox } from "../common/NumberBox";
import { Said } from "../parts/Said";

const Part = styled.section`
  margin-bottom: 20px;
  h3 {
    margin-bottom: 6px;
  }
  p {
    font-size: 14px;
  }
  .pair {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 10px;
    margin-bottom: 8px;
  }
  .item {
    padding: 8px 0;
    border-bottom: 1px solid var(--hair);
    font-size: 14px;
  }
`;

type Props = { model: Model; words: readonly Schema["LineWords"][]; findings: readonly Finding[]; fields: Field[]; onChange?: (model: Model) => void };

/** What holds for all leads: the bars, what saturates, silence, caps for several criteria, and who is ruled out. */
export function AroundEditor(props: Props) {
  return (
    <>
      <Said findings={said(props.findings, "")} />
      <Bars {...props} />
      <Fading {...props} />
      <Vetoes {...props} />
      <Groups {...props} />
      <Names {...props} />
    </>
  );
}

function Bars({ model, findings, onChange }: Props) {
  const set = (bars: Partial<Model["bars"]>) => onChange?.({ ...model, bars: { ...model.bars, ...bars } });
  return (
    <Part>
      <h3>Bars</h3>
      {onChange ? (
        <div className="pair">
          <NumberBox label="Bar of fit" shown="Fit" value={model.bars.fit} least={0} most={100} whole onChange={(fit) => set({ fit })} />
          <NumberBox label="Bar of engagement" shown="Engagement" value={model.bars.engagement} least={0} most={100} whole onChange={(engagement) => set({ engagement })} />
          <NumberBox label="Slack under a bar" shown="Slack" value={model.bars.slack} least={0} most={30} whole onChange={(slack) => set({ slack })} />
        </div>
      ) : (
        <p>
          Fit {model.bars.fit}, engagement {model.bars.engagement}.
        </p>
      )}
      <p>Who has cleared a bar keeps it until {model.bars.slack} points below, so that nobody flickers.</p>
      <Said findings={said(findings, "bars")} />
    </Part>
  );
}

function Fading({ model, findings, onChange }: Props) {
  return (
    <Part>
      <h3>Saturation and silence</h3>
      {onChange ? (
        <div className="pair">
          <NumberBox label="Engagement saturates from" shown="Saturates from" value={model.saturatesFrom} least={0} most={100} onChange={(saturatesFrom) => onChange({ ...model, saturatesFrom })} />
          <span />
          <NumberBox label="Days of silence" shown="Silent for (days)" value={model.silence?.days ?? 90} least={1} most={3650} whole onChange={(days) => onChange({ ...model, silence: { days, points: model.silence?.points ?? 0 } })} />
          <NumberBox label="Points of silence" shown="Points" value={model.silence?.points ?? 0} least={-100} most={100} onChange={(value) => onChange({ ...model, silence: value === 0 ? null : { days: model.silence?.days ?? 90, points: value } })} />
        </div>
      ) : (
        <p>
          Up to {model.saturatesFrom} points add up; above, each further one counts for less. {model.silence && `Silent for ${model.silence.days} days: ${points(model.silence.points)}.`}
        </p>
      )}
      <Said findings={said(findings, "silence")} />
    </Part>
  );
}

function Vetoes({ model, words, findings, fields, onChange }: Props) {
  const add = (when: Condition) =>
    onChange?.({ ...model, vetoes: [...model.vetoes, { key: keyFor("veto", model.vetoes.map((v) => v.key)), when: when as never, words: "Not for us" }] });
  return (
    <Part>
      <h3>Ruled out</h3>
      {model.vetoes.length === 0 && <p>Nobody. Whoever a line here holds of has a fit of 0.</p>}
      {model.vetoes.map((veto, i) => {
        const set = (next: Partial<typeof veto>) => onChange?.({ ...model, vetoes: put(model.vetoes, i, { ...veto, ...next }) });
        return (
          <div className="item" key={veto.key}>
            {onChange ? (
              <>
                <TextBox label="" aria-label="What people read" value={veto.words} onChange={(next) => set({ words: next })} />
                when <ConditionText where={veto.when as Condition} fields={fields} path={[]} at={veto.when as Condition} onChange={(next) => (next ? set({ when: next as never }) : onChange({ ...model, vetoes: without(model.vetoes, i) }))} />{" "}
                <Button look="quiet" style={{ minHeight: 24, padding: 0, fontSize: 13 }} onPress={() => onChange({ ...model, vetoes: without(model.vetoes, i) })}>
                  Leave out
                </Button>
              </>
            ) : (
              <>
                {veto.words}
                <br />
                <small style={{ color: "var(--soft)" }}>{words.find((w) => w.path === `vetoes/${i}`)?.words}</small>
              </>
            )}
            <Said findings={about(findings, `vetoes/${i}`)} />
          </div>
        );
      })}
      {onChange && <AddCondition fields={fields} onAdd={add} words="rule somebody out" />}
    </Part>
  );
}

function Groups({ model, findings, onChange }: Props) {
  const add = () => {
    const key = keyFor("group", model.groups.map((g) => g.key));
    onChange?.({ ...model, groups: [...model.groups, { key, label: `Group ${model.groups.length + 1}`, atMost: 30, atLeast: 0 }] });
  };
  return (
    <Part>
      <h3>Caps for several criteria</h3>
      {model.groups.length === 0 && <p>None.</p>}
      {model.groups.map((group, i) => {
        const set = (next: Partial<typeof group>) => onChange?.({ ...model, groups: put(model.groups, i, { ...group, ...next }) });
        const members = model.fit.filter((c) => c.group === group.key).map((c) => c.label);
        return (
          <div className="item" key={group.key}>
            {onChange ? (
              <>
                <TextBox label="Name" value={group.label} onChange={(label) => set({ label })} />
                <div className="pair" style={{ marginTop: 6 }}>
                  <NumberBox label={`Least of ${group.label}`} shown="At least" value={group.atLeast} least={-100} most={0} whole onChange={(atLeast) => set({ atLeast })} />
                  <NumberBox label={`Most of ${group.label}`} shown="At most" value={group.atMost} least={0} most={100} whole onChange={(atMost) => set({ atMost })} />
                </div>
              </>
            ) : (
              <b>
                {group.label}: {group.atLeast} to {group.atMost}
              </b>
            )}
            <div style={{ color: "var(--soft)", fontSize: 13 }}>{members.length > 0 ? members.join(", ") : "no criterion yet"}</div>
            {onChange && (
              <Button
                look="quiet"
                style={{ minHeight: 24, padding: 0, fontSize: 13 }}
                onPress={() => onChange({ ...model, groups: without(model.groups, i), fit: model.fit.map((c) => (c.group === group.key ? { ...c, group: "" } : c)) })}
              >
                Leave out
              </Button>
            )}
            <Said findings={about(findings, `groups/${i}`)} />
          </div>
        );
      })}
      {onChange && (
        <Button look="quiet" style={{ padding: 0 }} onPress={add}>
          Add a cap
        </Button>
      )}
    </Part>
  );
}

const quarters = [
  ["handOver", "Fit and engaged"],
  ["nurture", "Fit, not engaged"],
  ["check", "Engaged, does it fit?"],
  ["park", "Neither"],
] as const;

function Names({ model, findings, onChange }: Props) {
  return (
    <Part>
      <h3>What the quarters are called</h3>
      {onChange ? (
        <div className="pair">
          {quarters.map(([key, label]) => (
            <TextBox key={key} label={label} value={model.names[key]} onChange={(name) => onChange({ ...model, names: { ...model.names, [key]: name } })} />
          ))}
        </div>
      ) : (
        <p>{quarters.map(([key]) => model.names[key]).join(", ")}</p>
      )}
      <Said findings={said(findings, "names")} />
    </Part>
  );
}
