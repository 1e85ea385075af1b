import { NumberBox } from "../common/NumberBox";
import { Button } from "../parts/Button";
import { TextBox } from "../parts/Field";
import { Said } from "../parts/Said";
import { Hint } from "../parts/Words";
import { Part, type AroundProps } from "./AroundPart";
import { about, keyFor, put, without, type Finding, type Model } from "./model";

type Group = Model["groups"][number];

/** Caps over several criteria together. */
export function Groups({ model, findings, onChange }: AroundProps) {
  const add = () => {
    const key = keyFor("group", model.groups.map((g) => g.key));
    onChange?.({ ...model, groups: [...model.groups, { key, label: `Group ${model.groups.length + 1}`, atMost: 30, atLeast: 0 }] });
  };
  const drop = (group: Group, i: number) => onChange?.({ ...model, groups: without(model.groups, i), fit: model.fit.map((c) => (c.group === group.key ? { ...c, group: "" } : c)) });
  return (
    <Part>
      <h3>Caps for several criteria</h3>
      {model.groups.length === 0 && <p>None.</p>}
      {model.groups.map((group, i) => (
        <OneGroup
          key={group.key}
          group={group}
          members={model.fit.filter((c) => c.group === group.key).map((c) => c.label)}
          findings={about(findings, `groups/${i}`)}
          onChange={onChange && ((next) => onChange({ ...model, groups: put(model.groups, i, { ...group, ...next }) }))}
          onDrop={() => drop(group, i)}
        />
      ))}
      {onChange && (
        <Button look="inline" onPress={add}>
          Add a cap
        </Button>
      )}
    </Part>
  );
}

type OneProps = { group: Group; members: string[]; findings: readonly Finding[]; onChange?: (next: Partial<Group>) => void; onDrop: () => void };

function OneGroup({ group, members, findings, onChange, onDrop }: OneProps) {
  return (
    <div className="item">
      {onChange ? (
        <>
          <TextBox label="Name" value={group.label} onChange={(label) => onChange({ label })} />
          <div className="pair">
            <NumberBox label={`Least of ${group.label}`} shown="At least" value={group.atLeast} least={-100} most={0} whole onChange={(atLeast) => onChange({ atLeast })} />
            <NumberBox label={`Most of ${group.label}`} shown="At most" value={group.atMost} least={0} most={100} whole onChange={(atMost) => onChange({ atMost })} />
          </div>
        </>
      ) : (
        <b>
          {group.label}: {group.atLeast} to {group.atMost}
        </b>
      )}
      <Hint as="div">{members.length > 0 ? members.join(", ") : "no criterion yet"}</Hint>
      {onChange && (
        <Button look="inline" onPress={onDrop}>
          Leave out
        </Button>
      )}
      <Said findings={findings} />
    </div>
  );
}
