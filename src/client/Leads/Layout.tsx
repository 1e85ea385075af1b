import { useState } from "react";
import type { Field } from "../Conditions/conditions";
import { Button } from "../parts/Button";
import { ChoiceBox, TextBox } from "../parts/Field";
import { OrderBox } from "./OrderBox";
import { groupings, labelOf } from "./order";
import { Pop, PopBox, Word } from "./Pop";
import { writeColumns, type Column, type Work } from "./work";

type Props = { work: Work; fields: Field[]; set: (changes: Record<string, string | null>) => void };

/** What stands in the rows, in which order, under which headings. */
export function Layout({ work, fields, set }: Props) {
  return (
    <>
      <Pop word="Columns" label="Columns">
        <Columns chosen={work.columns} fields={fields} onChange={(next) => set({ columns: writeColumns(next) })} />
      </Pop>
      <Pop word="Order" label="Order">
        <OrderBox order={work.order} fields={fields.filter((f) => !f.many)} onChange={(order) => set({ order })} />
      </Pop>
      <Pop word={work.group ? "Grouped" : "Group"} label="Group">
        <PopBox>
          <ChoiceBox label="Rows under a heading for each" value={work.group ?? "none"} options={[{ key: "none", label: "nothing" }, ...groupings(fields)]} onChange={(group) => set({ group })} />
        </PopBox>
      </Pop>
      <Word onPress={() => set({ dense: work.dense ? "0" : "1" })} aria-pressed={work.dense}>
        {work.dense ? "Roomy" : "Dense"}
      </Word>
      {work.show !== "rows" && <Word onPress={() => set({ show: null })}>As rows</Word>}
      {work.show !== "counts" && <Word onPress={() => set({ show: "counts" })}>As counts</Word>}
      {work.show !== "month" && <Word onPress={() => set({ show: "month" })}>By date</Word>}
    </>
  );
}

type ColumnsProps = { chosen: Column[]; fields: Field[]; onChange: (columns: Column[]) => void };

const moved = (columns: Column[], from: number, to: number) => {
  const rest = columns.filter((_, i) => i !== from);
  return [...rest.slice(0, to), columns[from]!, ...rest.slice(to)];
};

function Columns({ chosen, fields, onChange }: ColumnsProps) {
  return (
    <PopBox>
      <ol>
        {chosen.map((c, i) => (
          <li key={c.field}>
            <span>{labelOf(fields, c.field)}</span>
            <Button look="quiet" isDisabled={i === 0} onPress={() => onChange(moved(chosen, i, i - 1))} aria-label={`${labelOf(fields, c.field)} further left`}>
              ↑
            </Button>
            <Button look="quiet" isDisabled={i === chosen.length - 1} onPress={() => onChange(moved(chosen, i, i + 1))} aria-label={`${labelOf(fields, c.field)} further right`}>
              ↓
            </Button>
            <Button look="quiet" onPress={() => onChange(chosen.filter((x) => x !== c))} aria-label={`Leave out ${labelOf(fields, c.field)}`}>
              ×
            </Button>
          </li>
        ))}
      </ol>
      <ChoiceBox label="Add a column" value={null} options={fields.filter((f) => chosen.every((c) => c.field !== f.key)).map((f) => ({ key: f.key, label: f.label }))} onChange={(field) => onChange([...chosen, { field }])} />
      <Widths chosen={chosen} fields={fields} onChange={onChange} />
    </PopBox>
  );
}

const widest = 800;

function Widths({ chosen, fields, onChange }: ColumnsProps) {
  const [open, setOpen] = useState(false);
  if (!open)
    return (
      <Button look="quiet" onPress={() => setOpen(true)}>
        Set widths
      </Button>
    );
  const write = (column: Column, text: string) => onChange(chosen.map((x) => (x === column ? { ...column, width: Math.min(Number(text.replace(/\D/g, "")), widest) || null } : x)));
  return (
    <>
      <p>In pixels, 40 to 800; blank for what is left.</p>
      {chosen.map((c) => (
        <TextBox key={c.field} label={labelOf(fields, c.field)} value={c.width ? String(c.width) : ""} inputMode="numeric" onChange={(text) => write(c, text)} />
      ))}
    </>
  );
}
