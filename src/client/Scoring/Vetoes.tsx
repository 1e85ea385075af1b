import { AddCondition, ConditionText } from "../Conditions/ConditionText";
import type { Condition, Field } from "../Conditions/conditions";
import { Button } from "../parts/Button";
import { TextBox } from "../parts/Field";
import { Said } from "../parts/Said";
import { Hint } from "../parts/Words";
import { Part, type AroundProps } from "./AroundPart";
import { about, keyFor, put, without, type Finding, type Model } from "./model";

type Veto = Model["vetoes"][number];

/** Leads of which a condition holds have a fit of 0. */
export function Vetoes({ model, words, findings, fields, onChange }: AroundProps) {
  const set = onChange && ((vetoes: Veto[]) => onChange({ ...model, vetoes }));
  const add = (when: Condition) => set?.([...model.vetoes, { key: keyFor("veto", model.vetoes.map((v) => v.key)), when: when as never, words: "Not for us" }]);
  return (
    <Part>
      <h3>Ruled out</h3>
      {model.vetoes.length === 0 && <p>Nobody. Whoever a line here holds of has a fit of 0.</p>}
      {model.vetoes.map((veto, i) => (
        <OneVeto
          key={veto.key}
          veto={veto}
          words={words.find((w) => w.path === `vetoes/${i}`)?.words}
          findings={about(findings, `vetoes/${i}`)}
          fields={fields}
          onChange={set && ((next) => set(next ? put(model.vetoes, i, next) : without(model.vetoes, i)))}
        />
      ))}
      {onChange && <AddCondition fields={fields} onAdd={add} words="rule somebody out" />}
    </Part>
  );
}

type OneProps = { veto: Veto; words?: string; findings: readonly Finding[]; fields: Field[]; onChange?: (next: Veto | null) => void };

function OneVeto({ veto, words, findings, fields, onChange }: OneProps) {
  const when = veto.when as Condition;
  return (
    <div className="item">
      {onChange ? (
        <>
          <TextBox label="" aria-label="What people read" value={veto.words} onChange={(next) => onChange({ ...veto, words: next })} />
          when <ConditionText where={when} fields={fields} path={[]} at={when} onChange={(next) => onChange(next && { ...veto, when: next as never })} />{" "}
          <Button look="inline" onPress={() => onChange(null)}>
            Leave out
          </Button>
        </>
      ) : (
        <>
          {veto.words}
          <Hint as="small">{words}</Hint>
        </>
      )}
      <Said findings={findings} />
    </div>
  );
}
