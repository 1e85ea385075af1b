import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useId, useRef, useState, useSyncExternalStore } from "react";
import styled from "styled-components";
import { api, must } from "../api/client";
import { Button } from "./Button";
import { ChoiceBox, TextBox } from "./Field";
import { Ticks } from "./Ticks";
import { tellError } from "./Toast";

export type ListName = "contact-kinds" | "deal-roles" | "segments" | "lost-reasons" | "competitors" | "state_reason";

/** A list whose values are added where they are needed. */
export const usePickList = (list: ListName) =>
  useQuery({ queryKey: ["kept-list", list], staleTime: 60_000, queryFn: () => must(api.GET("/api/lists/{list}", { params: { path: { list } } })) });

/** What the values of a kept list are called, by their keys. */
export const useKeptLabels = (list: ListName): Record<string, string> => Object.fromEntries((usePickList(list).data?.values ?? []).map((v) => [v.key, v.label]));

const Adding = styled.div`
  display: flex;
  gap: 8px;
  align-items: end;
  & > :first-child {
    flex: 1;
  }
`;

const adding = "+";

// Adders with a name that is not added yet, on the whole page.
const unkept = new Set<string>();
const watchers = new Set<() => void>();

function mark(adder: string, isUnkept: boolean) {
  if (isUnkept) unkept.add(adder);
  else unkept.delete(adder);
  for (const watcher of watchers) watcher();
}

function watch(watcher: () => void) {
  watchers.add(watcher);
  return () => void watchers.delete(watcher);
}

/** True while a name stands in an adder and is not added: acts that take the value wait, or it would be left out without a word. */
export const useUnkept = () => useSyncExternalStore(watch, () => unkept.size > 0);

function Adder({ list, label, onAdded, onLeave }: { list: ListName; label: string; onAdded: (key: string) => void; onLeave: () => void }) {
  const [name, setName] = useState("");
  const queries = useQueryClient();
  const id = useId();
  const isUnkept = !!name.trim();
  useEffect(() => {
    mark(id, isUnkept);
    return () => mark(id, false);
  }, [id, isUnkept]);
  // What was typed elsewhere while it was added is the caller's by then.
  const added = useRef(onAdded);
  useEffect(() => {
    added.current = onAdded;
  });
  const add = async () => {
    try {
      const made = await must(api.POST("/api/lists/{list}", { params: { path: { list } }, body: { label: name } }));
      await queries.invalidateQueries({ queryKey: ["kept-list", list] });
      added.current(made.key);
      onLeave();
    } catch (e) {
      tellError(e);
    }
  };
  return (
    // No form of its own: it may stand within one, and a form within a form sends nothing.
    <Adding
      role="group"
      aria-label={`New: ${label.toLowerCase()}`}
      onKeyDown={(e) => {
        if (e.key === "Escape") {
          e.stopPropagation();
          onLeave();
        } else if (e.key === "Enter" && e.target instanceof HTMLInputElement) {
          e.preventDefault();
          e.stopPropagation();
          if (name.trim()) void add();
        }
      }}
    >
      <TextBox label={`New: ${label.toLowerCase()}`} value={name} onChange={setName} autoFocus hint={isUnkept ? "Add it or cancel before you go on." : undefined} />
      <Button onPress={() => void add()} isDisabled={!isUnkept}>
        Add
      </Button>
      <Button look="quiet" onPress={onLeave}>
        Cancel
      </Button>
    </Adding>
  );
}

type Props = { list: ListName; label: string; value: string | null; onChange: (key: string) => void; none?: string; hideLabel?: boolean; error?: string };

/** One of a kept list; those who may add to it do so here. */
export function PickListChoice({ list, label, value, onChange, none, hideLabel, error }: Props) {
  const values = usePickList(list);
  const [open, setOpen] = useState(false);
  if (open) return <Adder list={list} label={label} onLeave={() => setOpen(false)} onAdded={onChange} />;
  const options = [...(none ? [{ key: "", label: none }] : []), ...(values.data?.values ?? []), ...(values.data?.mayAdd ? [{ key: adding, label: "add another …" }] : [])];
  return <ChoiceBox label={label} hideLabel={hideLabel} value={value} options={options} error={error} onChange={(key) => (key === adding ? setOpen(true) : onChange(key))} />;
}

type SeveralProps = { list: ListName; label: string; value: string[]; onChange: (keys: string[]) => void };

/** Any of a kept list. */
export function KeptTicks({ list, label, value, onChange }: SeveralProps) {
  const values = usePickList(list);
  const [open, setOpen] = useState(false);
  return (
    <div>
      <Ticks label={label} options={values.data?.values ?? []} value={value} onChange={onChange} />
      {open ? (
        <Adder list={list} label={label} onLeave={() => setOpen(false)} onAdded={(key) => onChange([...value.filter((v) => v !== key), key])} />
      ) : (
        values.data?.mayAdd && (
          <Button look="quiet" onPress={() => setOpen(true)}>
            Add another
          </Button>
        )
      )}
    </div>
  );
}
