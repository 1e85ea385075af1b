import { useState } from "react";
import { Link } from "react-router";
import type { Schema } from "../api/client";
import { useAct } from "../common/acting";
import { useForm } from "../common/form";
import { Cap } from "../parts/Bench";
import { Button } from "../parts/Button";
import { DataTable, FadedRow } from "../parts/DataTable";
import { ChoiceBox, TextBox } from "../parts/Field";
import { whole } from "../parts/format";
import { Block } from "../parts/Layout";
import { Empty } from "../parts/States";
import { Hint, Title } from "../parts/Words";
import { listActs, useKeptLists, useValueUses, type KeptList, type KeptLists, type KeptValue } from "./lists";
import { KeptActs, MergeBox, type Run } from "./KeptActs";
import { Merges } from "./Merges";
import { Adding, SetupPage } from "./SetupPage";
import { useSources } from "./sources";
import { SourceList } from "./SourcesPage";
import { ValueForm } from "./ValueForm";

/** Every list of values that people choose from while they work. */
export function ListsPage() {
  const lists = useKeptLists();
  const sources = useSources();
  // Together, so that nothing moves down when the second one comes.
  const both = { data: lists.data && sources.data && { lists: lists.data, sources: sources.data }, error: lists.error ?? sources.error, isPending: lists.isPending || sources.isPending, isError: lists.isError || sources.isError };
  return (
    <SetupPage
      title="Lists of values"
      intro={
        <>
          What there is to choose from. <Link to="/setup/tags">Tags</Link> and the values of <Link to="/setup/fields">fields of your own</Link> have pages of their own.
        </>
      }
      query={both}
    >
      {(data) => <Lists data={data.lists} sources={data.sources} />}
    </SetupPage>
  );
}

type Opened = { list: KeptList; value: KeptValue };

function Lists({ data, sources }: { data: KeptLists; sources: Schema["SourcesView"] }) {
  const [opened, setOpened] = useState<Opened>();
  const uses = useValueUses().data;
  return (
    <>
      <Merges merges={data.merges} nameOf={(list) => data.lists.find((l) => l.key === list)?.name ?? list} onUndo={listActs.undo} />
      <Block as="section" aria-label="Sources" $below={9}>
        <Title>Sources</Title>
        <Hint $below={3}>Every lead comes from one of these.</Hint>
        <SourceList view={sources} />
      </Block>
      {data.lists.map((l) => (
        <Block key={l.key} as="section" aria-label={l.name} $below={9}>
          <Title>{l.name}</Title>
          <Hint $below={3}>{l.about}</Hint>
          <Add list={l} />
          <Values list={l} uses={uses?.[l.key]} isCounted={!!uses} onOpen={(value) => setOpened({ list: l, value })} />
        </Block>
      ))}
      {opened && <ValueForm key={`${opened.list.key}:${opened.value.key}`} {...opened} onClose={() => setOpened(undefined)} />}
    </>
  );
}

function Add({ list }: { list: KeptList }) {
  const form = useForm({ called: `the new value of ${list.name}`, name: `new-value:${list.key}`, initial: { label: "", of: list.states[0]?.key ?? "" } });
  const add = () => form.send(({ label, of }) => listActs.add(list.key, label, of || null), { changes: ["lists", "setup"], words: `${form.values.label.trim()} can be chosen.` });
  return (
    <Adding form={form} words="Add" onAdd={add} isReady={!!form.values.label.trim()} columns={list.states.length > 0 ? 1 : 0} label={`New: ${list.name.toLowerCase()}`}>
      <TextBox label="A new value" {...form.bind("label")} />
      {list.states.length > 0 && <ChoiceBox label="Of the state" {...form.bind("of")} options={list.states} />}
    </Adding>
  );
}

type ValuesProps = { list: KeptList; uses?: Record<string, number>; isCounted: boolean; onOpen: (value: KeptValue) => void };

function Values({ list, uses, isCounted, onOpen }: ValuesProps) {
  if (list.values.length === 0) return <Empty>There is nothing to choose from yet.</Empty>;
  const merging = list.merges ? [{ label: "Stands for it", width: 200 }] : [];
  return (
    <DataTable label={list.name} head={["Value", { label: "Records", isNumber: true, width: 90 }, ...merging, { label: "Acts", isUnseen: true }]} hasButtons width={880}>
      {list.values.map((v, i) => (
        <Line key={v.key} list={list} value={v} at={i} uses={isCounted ? (uses?.[v.key] ?? 0) : undefined} onOpen={() => onOpen(v)} />
      ))}
    </DataTable>
  );
}

/** The state that a value belongs to, by the beginning of its key. */
const stateOf = (list: KeptList, value: KeptValue) => list.states.find((s) => value.key.startsWith(`${s.key}:`));

type LineProps = { list: KeptList; value: KeptValue; at: number; uses?: number; onOpen: () => void };

function Line({ list, value: v, at, uses, onOpen }: LineProps) {
  const act = useAct();
  const run: Run = (work, words, back) => void act.run(work, { changes: ["lists", "setup", "deal"], words, back });
  const state = stateOf(list, v);
  const others = list.values.filter((o) => o.key !== v.key && !o.retired && stateOf(list, o) === state);
  return (
    <FadedRow $faded={v.retired}>
      <td>
        {v.label}
        {state && <Cap>of {state.label.toLowerCase()}</Cap>}
        {v.retired && <Cap>retired</Cap>}
        {v.alsoCalled.length > 0 && <Cap>also read as {v.alsoCalled.join(", ")}</Cap>}
      </td>
      <td className="n">{uses === undefined ? "…" : whole(uses)}</td>
      {list.merges && (
        <td>
          <MergeBox kind="value" name={v.label} options={others} run={run} onMerge={(into) => listActs.merge(list.key, v.key, into)} />
        </td>
      )}
      <td>
        <KeptActs
          name={v.label}
          order={list.values.map((x) => x.key)}
          at={at}
          isRetired={v.retired}
          keeper="Whatever has it"
          run={run}
          isBusy={act.busy}
          onChange={onOpen}
          onOrder={(order) => listActs.order(list.key, order)}
          onRetire={(retired) => listActs.change(list.key, v.key, { retired })}
        >
          {uses === 0 && (
            <Button look="quiet" aria-label={`Take away ${v.label}`} onPress={() => run(() => listActs.remove(list.key, v.key), `${v.label} is gone.`, () => listActs.add(list.key, v.label, state?.key ?? null))}>
              Take away
            </Button>
          )}
        </KeptActs>
      </td>
    </FadedRow>
  );
}
