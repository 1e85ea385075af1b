import type { Schema } from "../api/client";
import { NumberBox } from "../common/NumberBox";
import { ConditionText } from "../Conditions/ConditionText";
import { always, type Condition, type Field } from "../Conditions/conditions";
import { Button } from "../parts/Button";
import { TextBox } from "../parts/Field";
import { points } from "../parts/format";
import { Said } from "../parts/Said";
import type { Finding, Line } from "./model";

type Props = {
  line: Line;
  /** What the condition says, for those who only read. */
  words?: string;
  findings: readonly Finding[];
  told?: Schema["LineWorth"];
  fields: Field[];
  onChange?: (next: Line | null) => void;
  onUp?: () => void;
};

/** One line of a criterion: what it asks, what it gives, and what outcomes say of it. */
export function CriterionLine({ line, words, findings, told, fields, onChange, onUp }: Props) {
  return (
    <li>
      {onChange ? (
        <Editing line={line} fields={fields} onChange={onChange} onUp={onUp} />
      ) : (
        <div className="row">
          <span>
            {line.words}
            <br />
            <small>{words}</small>
          </span>
          <b>{points(line.points)}</b>
        </div>
      )}
      {told && told.share.count > 0 && (
        <small>
          won {told.share.won} of {told.share.count}, {told.lift.toFixed(1)} times the usual
        </small>
      )}
      <Said findings={findings} />
    </li>
  );
}

type EditingProps = { line: Line; fields: Field[]; onChange: (next: Line | null) => void; onUp?: () => void };

function Editing({ line, fields, onChange, onUp }: EditingProps) {
  const when = line.when as Condition;
  return (
    <>
      <div className="row">
        <TextBox aria-label="What people read" label="" value={line.words} onChange={(words) => onChange({ ...line, words })} />
        <NumberBox label={`Points for ${line.words}`} value={line.points} least={-100} most={100} whole onChange={(value) => onChange({ ...line, points: value })} />
      </div>
      <small>
        when <ConditionText where={when} fields={fields} path={[]} at={when} onChange={(next) => onChange({ ...line, when: (next ?? always) as Line["when"] })} />
      </small>
      <div className="acts">
        {onUp && (
          <Button look="inline" onPress={onUp}>
            Up
          </Button>
        )}
        <Button look="inline" onPress={() => onChange(null)}>
          Leave out
        </Button>
      </div>
    </>
  );
}
