import styled from "styled-components";
import { MaybeNumberBox } from "../common/NumberBox";
import { Button } from "../parts/Button";
import { Plain } from "../parts/Layout";
import { Tick } from "../parts/Ticks";
import type { Names, Sheet } from "./sheet";

const Days = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 8px;
  align-items: end;
  padding-left: 22px;
`;

type Guards = NonNullable<Sheet["guards"]>;
type Props = { guards: Guards; names: Names; onChange?: (guards: Guards) => void };

/** The owners that are asked before the rules, in their order. */
export function GuardList({ guards, names, onChange }: Props) {
  // Those a file left out stand at the end, switched off.
  const all = [...guards, ...names.guards.filter((n) => guards.every((g) => g.kind !== n.key)).map((n) => ({ kind: n.key, on: false, awayDays: 0 }))];
  const earlier = (at: number) => onChange?.([...all.slice(0, at - 1), all[at]!, all[at - 1]!, ...all.slice(at + 1)]);
  return (
    <Plain as="ol" $gap={2}>
      {all.map((guard, at) => (
        <Guard
          key={guard.kind}
          guard={guard}
          name={names.guards.find((n) => n.key === guard.kind)?.name ?? guard.kind}
          onSet={(next) => onChange?.(all.map((g, i) => (i === at ? next : g)))}
          onEarlier={at > 0 && onChange ? () => earlier(at) : undefined}
        />
      ))}
    </Plain>
  );
}

type GuardProps = { guard: Guards[number]; name: string; onSet: (guard: Guards[number]) => void; onEarlier?: () => void };

function Guard({ guard, name, onSet, onEarlier }: GuardProps) {
  const isOn = guard.on ?? true;
  return (
    <li>
      <Tick value={isOn} onChange={(on) => onSet({ ...guard, on })}>
        {name}
      </Tick>
      {isOn && (
        <Days>
          <MaybeNumberBox
            label={`${name}: days away at most`}
            shown="passed over when away for over days; empty for never"
            least={0}
            most={365}
            whole
            value={guard.awayDays ?? undefined}
            onChange={(awayDays) => onSet({ ...guard, awayDays: awayDays ?? null })}
          />
          {onEarlier && (
            <Button look="quiet" aria-label={`${name}: ask earlier`} onPress={onEarlier}>
              earlier
            </Button>
          )}
        </Days>
      )}
    </li>
  );
}
