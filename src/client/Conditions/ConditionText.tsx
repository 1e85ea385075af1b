import type { ReactNode } from "react";
import { Button, DialogTrigger } from "react-aria-components";
import styled from "styled-components";
import { Hanging } from "../parts/Hanging";
import { ConditionBox } from "./ConditionBox";
import { beside, isLeaf, replaced, wordsOf, type Condition, type Field, type Leaf } from "./conditions";

export const Part = styled(Button)`
  display: inline;
  font: inherit;
  letter-spacing: inherit;
  padding: 0;
  border: 0;
  border-bottom: 1.5px solid var(--slate);
  background: none;
  color: var(--slate);
  cursor: pointer;
  text-align: left;
  &[data-hovered] {
    background: var(--slate-wash);
  }
`;

export const More = styled(Part)`
  border-bottom-style: dotted;
  font-family: "Hanken Grotesk Variable", system-ui, sans-serif;
  font-size: 13px;
`;

type Props = { where: Condition; fields: Field[]; path: number[]; at: Condition; onChange: (where: Condition | null) => void };

/** A part of a condition as words of which each is changed in place. */
export function ConditionText({ where, fields, path, at, onChange }: Props): ReactNode {
  if (isLeaf(at))
    return (
      <Changed
        words={wordsOf(at, fields)}
        box={{
          fields,
          start: at,
          onSet: (leaf) => onChange(replaced(where, path, leaf)),
          onRemove: () => onChange(replaced(where, path, null)),
          onBeside: (leaf, how) => onChange(beside(where, path, leaf, how)),
        }}
      />
    );
  const part = (child: Condition, i: number) => <ConditionText key={i} where={where} fields={fields} path={[...path, i]} at={child} onChange={onChange} />;
  if ("not" in at) return <span>not ({part(at.not, 0)})</span>;
  const [children, joint] = "any" in at ? [at.any, " or "] : "all" in at ? [at.all, " and "] : [[], ""];
  return (
    <span>
      ({children.map((child, i) => [i > 0 && joint, part(child, i)])})
    </span>
  );
}

type Box = Parameters<typeof ConditionBox>[0];

function Changed({ words, box }: { words: string; box: Omit<Box, "close"> }) {
  return (
    <Popping label={`Change: ${words}`} box={box}>
      <Part>{words}</Part>
    </Popping>
  );
}

/** Puts a first condition, or one more. */
export function AddCondition({ fields, onAdd, words = "add a condition" }: { fields: Field[]; onAdd: (leaf: Leaf) => void; words?: string }) {
  return (
    <Popping label="A new condition" box={{ fields, onSet: onAdd }}>
      <More>{words}</More>
    </Popping>
  );
}

function Popping({ label, box, children }: { label: string; box: Omit<Box, "close">; children: ReactNode }) {
  return (
    <DialogTrigger>
      {children}
      <Hanging label={label}>{(close) => <ConditionBox {...box} close={close} />}</Hanging>
    </DialogTrigger>
  );
}
