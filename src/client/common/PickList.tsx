import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import styled from "styled-components";
import { api, must } from "../api/client";
import { Button } from "../parts/Button";
import { ChoiceBox, TextBox } from "../parts/Field";
import { Ticks } from "../parts/Ticks";
import { useUnread } from "../parts/unread";
import { useAct } from "./acting";
import { keys } from "./keys";

export type ListName = "contact-kinds" | "deal-roles" | "segments" | "lost-reasons" | "competitors" | "state_reason" | "sub_state";

/** A list whose values are added where they are needed. */
export const usePickList = (list: ListName) =>
  useQuery({ queryKey: keys.pickList(list), staleTime: 60_000, queryFn: () => must(api.GET("/api/lists/{list}", { params: { path: { list } } })) });

/** What the values of a kept list are called, by their keys. */
export const useKeptLabels = (list: ListName): Record<string, string> => Object.fromEntries((usePickList(list).data?.values ?? []).map((v) => [v.key, v.label]));

/** Those that are offered: a retired one to whatever has it alone. */
export const offered = <V extends { key: string; retired: boolean }>(values: readonly V[] = [], has: readonly (string | null)[]) => values.filter((v) => !v.retired || has.includes(v.key));

const Adding = styled.div`
  display: flex;
  gap: 8px;
  align-items: end;
  & > :first-child {
    flex: 1;
  }
`;

const adding = "+";

function Adder({ list, label, onAdded, onLeave }: { list: ListName; label: string; onAdded: (key: string) => void; onLeave: () => void }) {
  const [name, setName] = useState("");
  const act = useAct();
  const isUnkept = !!name.trim();
  useUnread(isUnkept);
  // What was typed elsewhere while it was added is the caller's by then.
  const added = useRef(onAdded);
  useEffect(() => {
    added.current = onAdded;
  });
  const add = () =>
    act.run(() => must(api.POST("/api/lists/{list}", { params: { path: { list } }, body: { label: name } })), {
      changes: ["lists"],
      then: (made) => {
        added.current(made.key);
        onLeave();
      },
    });
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
      <Button onPress={() => void add()} isPending={act.busy} isDisabled={!isUnkept}>
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
  const options = [...(none ? [{ key: "", label: none }] : []), ...offered(values.data?.values, [value]), ...(values.data?.mayAdd ? [{ key: adding, label: "add another …" }] : [])];
  return <ChoiceBox label={label} hideLabel={hideLabel} value={value} options={options} error={error} onChange={(key) => (key === adding ? setOpen(true) : onChange(key))} />;
}

type SeveralProps = { list: ListName; label: string; value: string[]; onChange: (keys: string[]) => void };

/** Any of a kept list. */
export function KeptTicks({ list, label, value, onChange }: SeveralProps) {
  const values = usePickList(list);
  const [open, setOpen] = useState(false);
  return (
    <div>
      <Ticks label={label} options={offered(values.data?.values, value)} value={value} onChange={onChange} />
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
