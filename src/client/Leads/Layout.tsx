import { Button as Press, Dialog, DialogTrigger } from "react-aria-components";
import { useState, type ReactNode } from "react";
import styled from "styled-components";
import { Button } from "../parts/Button";
import { ChoiceBox, Float, TextBox } from "../parts/Field";
import { small } from "../parts/theme";
import type { Field } from "../Conditions/conditions";
import { writeColumns, type Column, type Work } from "./work";

const Box = styled.div`
  display: flex;
  flex-direction: column;
  gap: 10px;
  padding: 14px;
  width: 320px;
  max-height: 440px;
  overflow: auto;
  ol {
    list-style: none;
    padding: 0;
    display: flex;
    flex-direction: column;
    gap: 2px;
  }
  li {
    display: flex;
    align-items: center;
    font-size: 14px;
    border-bottom: 1px solid var(--hair);
  }
  li > span {
    flex: 1;
    min-width: 0;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  p {
    ${small}
  }
`;

export const Word = styled(Press)`
  border: 0;
  background: none;
  padding: 2px 0;
  min-height: 24px;
  color: var(--soft);
  font-size: 13px;
  cursor: pointer;
  &[data-hovered] {
    color: var(--slate);
    text-decoration: underline;
    text-underline-offset: 3px;
  }
`;

export function Pop({ word, label, children }: { word: string; label: string; children: ReactNode }) {
  return (
    <DialogTrigger>
      <Word>{word}</Word>
      <Float placement="bottom end">
        <Dialog aria-label={label} style={{ outline: "none" }}>
          {children}
        </Dialog>
      </Float>
    </DialogTrigger>
  );
}

type Props = { work: Work; fields: Field[]; set: (changes: Record<string, string | null>) => void };

const grains = [
  { key: "day", label: "day" },
  { key: "week", label: "week" },
  { key: "month", label: "month" },
  { key: "year", label: "year" },
];

/** Fields one can group by, dates in four grains. */
export const groupings = (fields: Field[]) =>
  fields
    .filter((f) => !f.many && !["phone", "email"].includes(f.type))
    .flatMap((f) => (f.type === "date" ? grains.map((g) => ({ key: `${f.key}:${g.key}`, label: `${f.label}, by ${g.label}` })) : [{ key: f.key, label: f.label }]));

const labelOf = (fields: Field[], key: string) => fields.find((f) => f.key === key)?.label ?? key;

/** The order as words: "newest first", "fit, greatest first, then company". */
export function orderWords(order: string, fields: Field[]) {
  if (order === "-created_at") return "newest first";
  return order
    .split(",")
    .map((part) => {
      const [key, down] = [part.replace(/^-/, ""), part.startsWith("-")];
      const field = fields.find((f) => f.key === key);
      const name = labelOf(fields, key);
      const word = /^.[A-Z]/.test(name) ? name : name.toLowerCase();
      const date = field?.type === "date";
      const number = field?.type === "number" || field?.type === "money";
      return down ? `${word}, ${date ? "latest" : number ? "greatest" : "Z to A"} first` : `${word}${date ? ", earliest first" : number ? ", smallest first" : ""}`;
    })
    .join(", then ")
    .replace(/^/, "by ");
}

/** What stands in the rows, in which order, under which headings. */
export function Layout({ work, fields, set }: Props) {
  const columns = (next: Column[]) => set({ columns: writeColumns(next) });
  const chosen = work.columns;
  const move = (i: number, to: number) => columns(chosen.flatMap((c, j) => (j === i ? [] : j === to ? (to < i ? [chosen[i]!, c] : [c, chosen[i]!]) : [c])));
  return (
    <>
      <Pop word="Columns" label="Columns">
        <Box>
          <ol>
            {chosen.map((c, i) => (
              <li key={c.field}>
                <span>{labelOf(fields, c.field)}</span>
                <Button look="quiet" isDisabled={i === 0} onPress={() => move(i, i - 1)} aria-label={`${labelOf(fields, c.field)} further left`}>
                  ↑
                </Button>
                <Button look="quiet" isDisabled={i === chosen.length - 1} onPress={() => move(i, i + 1)} aria-label={`${labelOf(fields, c.field)} further right`}>
                  ↓
                </Button>
                <Button look="quiet" onPress={() => columns(chosen.filter((x) => x !== c))} aria-label={`Leave out ${labelOf(fields, c.field)}`}>
                  ×
                </Button>
              </li>
            ))}
          </ol>
          <ChoiceBox label="Add a column" value={null} options={fields.filter((f) => chosen.every((c) => c.field !== f.key)).map((f) => ({ key: f.key, label: f.label }))} onChange={(field) => columns([...chosen, { field }])} />
          <Widths columns={chosen} fields={fields} onChange={columns} />
        </Box>
      </Pop>
      <Pop word="Order" label="Order">
        <Order order={work.order} fields={fields.filter((f) => !f.many)} onChange={(order) => set({ order })} />
      </Pop>
      <Pop word={work.group ? "Grouped" : "Group"} label="Group">
        <Box>
          <ChoiceBox label="Rows under a heading for each" value={work.group ?? "none"} options={[{ key: "none", label: "nothing" }, ...groupings(fields)]} onChange={(group) => set({ group })} />
        </Box>
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

function Widths({ columns, fields, onChange }: { columns: Column[]; fields: Field[]; onChange: (columns: Column[]) => void }) {
  const [open, setOpen] = useState(false);
  if (!open)
    return (
      <Button look="quiet" onPress={() => setOpen(true)}>
        Set widths
      </Button>
    );
  return (
    <>
      <p>In pixels, 40 to 800; blank for what is left.</p>
      {columns.map((c) => (
        <TextBox key={c.field} label={labelOf(fields, c.field)} value={c.width ? String(c.width) : ""} inputMode="numeric" onChange={(text) => onChange(columns.map((x) => (x === c ? { ...c, width: Math.min(Number(text.replace(/\D/g, "")), 800) || null } : x)))} />
      ))}
    </>
  );
}

const mostKeys = 4;

function Order({ order, fields, onChange }: { order: string; fields: Field[]; onChange: (order: string) => void }) {
  const keys = order.split(",").map((part) => ({ key: part.replace(/^-/, ""), down: part.startsWith("-") }));
  const write = (next: typeof keys) => onChange(next.map((k) => (k.down ? `-${k.key}` : k.key)).join(","));
  return (
    <Box>
      {keys.map((k, i) => (
        <div key={k.key} style={{ display: "grid", gridTemplateColumns: "1fr auto auto", gap: 8, alignItems: "end" }}>
          <ChoiceBox
            label={i === 0 ? "By" : "Then by"}
            value={k.key}
            options={fields.filter((f) => f.key === k.key || keys.every((x) => x.key !== f.key)).map((f) => ({ key: f.key, label: f.label }))}
            onChange={(key) => write(keys.map((x, j) => (j === i ? { ...x, key } : x)))}
          />
          <Button look="quiet" onPress={() => write(keys.map((x, j) => (j === i ? { ...x, down: !x.down } : x)))} aria-label={`${labelOf(fields, k.key)}: ${k.down ? "greatest first" : "smallest first"}; turn round`}>
            {k.down ? "↓" : "↑"}
          </Button>
          <Button look="quiet" isDisabled={keys.length === 1} onPress={() => write(keys.filter((_, j) => j !== i))} aria-label={`Leave out ${labelOf(fields, k.key)}`}>
            ×
          </Button>
        </div>
      ))}
      {keys.length < mostKeys && (
        <ChoiceBox label="Then by" value={null} options={fields.filter((f) => keys.every((x) => x.key !== f.key)).map((f) => ({ key: f.key, label: f.label }))} onChange={(key) => write([...keys, { key, down: false }])} />
      )}
    </Box>
  );
}
