import { useState, type ReactNode } from "react";
import { Button, Dialog, DialogTrigger } from "react-aria-components";
import styled from "styled-components";
import { Float } from "../parts/Field";
import { serif } from "../parts/theme";
import { ConditionBox } from "./ConditionBox";
import { beside, isLeaf, partsOf, replaced, wordsOf, type Condition, type Field, type Leaf } from "./conditions";

const Words = styled.h1`
  ${serif}
  font-size: 17px;
  font-weight: 450;
  line-height: 1.6;
  text-wrap: pretty;
`;

const Part = styled(Button)`
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

const More = styled(Part)`
  border-bottom-style: dotted;
  font-family: "Hanken Grotesk Variable", system-ui, sans-serif;
  font-size: 13px;
`;

type Props = { where: Condition; fields: Field[]; text: string; order: string; onChange: (where: Condition | null) => void; onClearText: () => void };

/** The conditions as one sentence; each part is changed in place. */
export function Sentence({ where, fields, text, order, onChange, onClearText }: Props) {
  const set = (path: number[], leaf: Leaf | null) => onChange(replaced(where, path, leaf));
  const parts = partsOf(where);
  const root = "all" in where;
  const part = (c: Condition, path: number[]): ReactNode => {
    if (isLeaf(c))
      return (
        <Changed
          key={path.join()}
          words={wordsOf(c, fields)}
          box={{
            fields,
            start: c,
            onSet: (leaf) => set(path, leaf),
            onRemove: () => set(path, null),
            onBeside: (leaf, how) => onChange(beside(where, path, leaf, how)),
          }}
        />
      );
    if ("not" in c) return <span key={path.join()}>not ({part(c.not, [...path, 0])})</span>;
    const [children, joint] = "any" in c ? [c.any, " or "] : "all" in c ? [c.all, " and "] : [[], ""];
    return (
      <span key={path.join()}>
        ({children.map((child, i) => [i > 0 && joint, part(child, [...path, i])])})
      </span>
    );
  };
  return (
    <Words>
      {parts.length === 0 && !text ? "All leads, " : "Leads where "}
      {text && (
        <>
          <Part onPress={onClearText}>
            “{text}” is found ×
          </Part>
          {", "}
        </>
      )}
      {parts.map((c, i) => [part(c, root ? [i] : []), ", "])}
      {order}.{" "}
      <Adding fields={fields} onAdd={(leaf) => onChange(parts.length === 0 ? leaf : { all: [...parts, leaf] })} />
    </Words>
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

function Adding({ fields, onAdd }: { fields: Field[]; onAdd: (leaf: Leaf) => void }) {
  return (
    <Popping label="A new condition" box={{ fields, onSet: onAdd }}>
      <More>add a condition</More>
    </Popping>
  );
}

function Popping({ label, box, children }: { label: string; box: Omit<Box, "close">; children: ReactNode }) {
  const [open, setOpen] = useState(false);
  return (
    <DialogTrigger isOpen={open} onOpenChange={setOpen}>
      {children}
      <Float placement="bottom start">
        <Dialog aria-label={label} style={{ outline: "none" }}>
          {({ close }) => <ConditionBox {...box} close={close} />}
        </Dialog>
      </Float>
    </DialogTrigger>
  );
}
