import type { Field } from "../Conditions/conditions";
import { Button } from "../parts/Button";
import { ChoiceBox } from "../parts/Field";
import { Columns } from "../parts/Layout";
import { labelOf } from "./order";
import { PopBox } from "./Pop";

const mostKeys = 4;

type Key = { key: string; down: boolean };
type Props = { order: string; fields: Field[]; onChange: (order: string) => void };

/** By which fields rows are ordered, one after the other, rising or falling. */
export function OrderBox({ order, fields, onChange }: Props) {
  const keys = order.split(",").map((part): Key => ({ key: part.replace(/^-/, ""), down: part.startsWith("-") }));
  const write = (next: Key[]) => onChange(next.map((k) => (k.down ? `-${k.key}` : k.key)).join(","));
  const put = (i: number, change: Partial<Key>) => write(keys.map((x, j) => (j === i ? { ...x, ...change } : x)));
  const free = (own?: string) => fields.filter((f) => f.key === own || keys.every((x) => x.key !== f.key)).map((f) => ({ key: f.key, label: f.label }));
  return (
    <PopBox>
      {keys.map((k, i) => (
        <Columns key={k.key} $of="minmax(0, 1fr) auto auto" $gap={2} $align="end">
          <ChoiceBox label={i === 0 ? "By" : "Then by"} value={k.key} options={free(k.key)} onChange={(key) => put(i, { key })} />
          <Button look="quiet" onPress={() => put(i, { down: !k.down })} aria-label={`${labelOf(fields, k.key)}: ${k.down ? "greatest first" : "smallest first"}; turn round`}>
            {k.down ? "↓" : "↑"}
          </Button>
          <Button look="quiet" isDisabled={keys.length === 1} onPress={() => write(keys.filter((_, j) => j !== i))} aria-label={`Leave out ${labelOf(fields, k.key)}`}>
            ×
          </Button>
        </Columns>
      ))}
      {keys.length < mostKeys && <ChoiceBox label="Then by" value={null} options={free()} onChange={(key) => write([...keys, { key, down: false }])} />}
    </PopBox>
  );
}
