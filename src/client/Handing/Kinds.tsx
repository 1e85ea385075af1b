import { useState } from "react";
import { Button } from "../parts/Button";
import { DataTable } from "../parts/DataTable";
import { ChoiceBox } from "../parts/Field";
import { money } from "../parts/format";
import { Skeleton } from "../parts/States";
import type { Form } from "./HandingPage";
import { takers, type KindChoice } from "./order";
import { useHeldRecords, type Holding, type Holdings } from "./queries";

const ways: Record<string, string> = {
  rules: "by the rules",
  turn: "in turn, within a team",
  person: "to one person",
};

const along: Record<string, string> = { contact: "with their account", deal: "with their account" };


const head = ["What", { label: "Worth", isNumber: true }, { label: "How", width: 230 }, { label: "To", width: 260 }, { label: "Acts", isUnseen: true }];

/** What somebody holds, a line each kind, with how it goes to whom. */
export function Kinds({ holdings, form }: { holdings: Holdings; form: Form }) {
  const [opened, setOpened] = useState<string>();
  const held = holdings.kinds.filter((k) => k.count > 0);
  return (
    <>
      <DataTable label="What they hold" head={head} hasButtons width={1000}>
        {held.map((k) => (
          <Kind key={k.kind} holding={k} holdings={holdings} form={form} isOpen={opened === k.kind} onOpen={() => setOpened(opened === k.kind ? undefined : k.kind)} />
        ))}
      </DataTable>
      {opened && <OneByOne key={opened} holdings={holdings} form={form} kind={opened} />}
    </>
  );
}

type KindProps = { holding: Holding; holdings: Holdings; form: Form; isOpen: boolean; onOpen: () => void };

function Kind({ holding: k, holdings, form, isOpen, onOpen }: KindProps) {
  const choice = form.values.kinds[k.kind]!;
  const set = (change: Partial<KindChoice>) => form.set({ kinds: { ...form.values.kinds, [k.kind]: { ...choice, ...change } } });
  const apart = Object.values(form.values.singly[k.kind] ?? {}).filter(Boolean).length;
  const options = k.ways.filter((w) => (w !== "rules" || holdings.hasRules) && (w !== "turn" || holdings.teams.length > 0)).map((w) => ({ key: w, label: ways[w] ?? along[k.kind] ?? "with the record they are about" }));
  return (
    <tr>
      <td>
        <b>{k.words}</b>
        {apart > 0 && <>, {apart} by themselves</>}
      </td>
      <td className="n">{k.money.map((m) => money(m.amount, m.currency)).join(", ")}</td>
      <td>
        <ChoiceBox label={`How the ${k.words} go`} hideLabel value={choice.how} options={options} onChange={(how) => set({ how })} />
      </td>
      <td>
        <To kind={k} choice={choice} holdings={holdings} onChange={set} />
      </td>
      <td>
        <Button look="quiet" aria-expanded={isOpen} aria-label={`${k.words} one by one`} onPress={onOpen}>
          One by one
        </Button>
      </td>
    </tr>
  );
}

const nobody = "-";

function To({ kind: k, choice, holdings, onChange }: { kind: Holding; choice: KindChoice; holdings: Holdings; onChange: (change: Partial<KindChoice>) => void }) {
  if (choice.how === "rules") return <>each as the live rules say</>;
  if (choice.how === "turn") return <ChoiceBox label={`Team for the ${k.words}`} hideLabel value={choice.team || null} options={holdings.teams.map((t) => ({ key: t.key, label: t.label }))} onChange={(team) => onChange({ team })} />;
  const rest = choice.how === "along";
  const people = takers(holdings.receivers, k.kind).map((r) => ({ key: r.id, label: (rest ? "the rest: " : "") + r.name + (r.away ? " (away)" : "") }));
  const options = rest ? [{ key: nobody, label: "the rest, if any: choose" }, ...people] : people;
  return <ChoiceBox label={`Who gets the ${k.words}`} hideLabel value={choice.person || (rest ? nobody : null)} placeholder="choose a person" options={options} onChange={(person) => onChange({ person: person === nobody ? "" : person })} />;
}

function OneByOne({ holdings, form, kind }: { holdings: Holdings; form: Form; kind: string }) {
  const records = useHeldRecords(holdings.id, kind, true);
  const chosen = form.values.singly[kind] ?? {};
  const set = (record: string, to: string) => form.set({ singly: { ...form.values.singly, [kind]: { ...chosen, [record]: to === nobody ? "" : to } } });
  const options = [{ key: nobody, label: "like the others" }, ...takers(holdings.receivers, kind).map((r) => ({ key: r.id, label: r.name }))];
  if (!records.data) return <Skeleton rows={3} />;
  return (
    <DataTable label="One by one" head={["Record", { label: "Worth", isNumber: true }, { label: "To", width: 260 }]} hasButtons width={800}>
      {records.data.map((r) => (
        <tr key={r.id}>
          <td>{r.name}</td>
          <td className="n">{r.worth && money(r.worth.amount, r.worth.currency)}</td>
          <td>
            <ChoiceBox label={`Who gets ${r.name}`} hideLabel value={chosen[r.id] || nobody} options={options} onChange={(to) => set(r.id, to)} />
          </td>
        </tr>
      ))}
    </DataTable>
  );
}
