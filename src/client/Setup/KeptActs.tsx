import type { ReactNode } from "react";
import { Button } from "../parts/Button";
import { ChoiceBox } from "../parts/Field";
import { Row } from "../parts/Layout";

/** Does something, says that it is done, and offers the way back. */
export type Run = (work: () => Promise<unknown>, words: string, back?: () => Promise<unknown>) => void;

type Props = {
  name: string;
  /** Keys of the whole list, in their order; this one stands at `at`. */
  order: readonly string[];
  at: number;
  isRetired: boolean;
  /** Who keeps it when it is retired. */
  keeper: string;
  run: Run;
  isBusy: boolean;
  onChange: () => void;
  onOrder: (order: string[]) => Promise<unknown>;
  onRetire: (retired: boolean) => Promise<unknown>;
  children?: ReactNode;
};

/** What can be done with something that stands in a list people keep. */
export function KeptActs({ name, order, at, isRetired, keeper, run, isBusy, onChange, onOrder, onRetire, children }: Props) {
  const move = (by: number) => {
    const next = order.filter((_, i) => i !== at);
    next.splice(at + by, 0, order[at]!);
    run(() => onOrder(next), `${name} stands ${by < 0 ? "higher" : "lower"}.`, () => onOrder([...order]));
  };
  const retiring = isRetired ? "Bring back" : "Retire";
  return (
    <Row $gap={1}>
      <Button look="quiet" aria-label={`Change ${name}`} onPress={onChange}>
        Change
      </Button>
      <Button look="quiet" aria-label={`Up: ${name}`} isDisabled={at === 0 || isBusy} onPress={() => move(-1)}>
        Up
      </Button>
      <Button look="quiet" aria-label={`Down: ${name}`} isDisabled={at === order.length - 1 || isBusy} onPress={() => move(1)}>
        Down
      </Button>
      <Button look="quiet" aria-label={`${retiring} ${name}`} onPress={() => run(() => onRetire(!isRetired), isRetired ? "Offered again." : `Retired. ${keeper} keeps it.`, () => onRetire(isRetired))}>
        {retiring}
      </Button>
      {children}
    </Row>
  );
}

type MergeProps = { kind: string; name: string; options: { key: string; label: string }[]; run: Run; onMerge: (into: string) => Promise<unknown> };

/** Lets another one of a list stand for this one. */
export function MergeBox({ kind, name, options, run, onMerge }: MergeProps) {
  const merge = (into: string) => run(() => onMerge(into), `${options.find((o) => o.key === into)?.label} stands for ${name} now. It can be taken back above.`);
  return <ChoiceBox hideLabel label={`Let another ${kind} stand for ${name}`} placeholder="merge into" value={null} options={options} onChange={merge} />;
}
