import { useEffect, useRef, useState } from "react";
import styled from "styled-components";
import { Head, Inner, Pane } from "../parts/Bench";
import { Button } from "../parts/Button";
import { DuplicateWhy } from "./DuplicateWhy";
import { PairTable } from "./PairTable";
import { duplicateActs, useDuplicate, type DuplicateSheet } from "./queries";

const Acts = styled.div`
  display: flex;
  gap: 8px;
  flex: none;
`;

export type Settle = <T>(work: () => Promise<T>, told: string, undo: (done: T) => Promise<unknown>) => void;

const kinds: Record<string, string> = { lead: "lead", contact: "contact", account: "account" };

type Props = { duplicate: DuplicateSheet; busy: boolean; onSettle: Settle };

/** A pair with what each says; the better value is chosen and can be chosen otherwise. Enter merges, `x` says they are two. */
export function SideBySide({ duplicate: first, busy, onSettle }: Props) {
  const [keep, setKeep] = useState(first.keep.id);
  // The same pair with the other one kept, once that is asked for.
  const swapped = useDuplicate(keep === first.keep.id ? undefined : first.id, keep);
  const duplicate = keep !== first.keep.id && swapped.data ? swapped.data : first;
  const [said, setSaid] = useState<Record<string, string>>({});
  const go = useRef<HTMLButtonElement>(null);
  useEffect(() => go.current?.focus(), []);
  const { merge, distinct } = settling(duplicate, said, onSettle);
  const swap = () => setKeep(duplicate.go.id);
  usePresses({ x: distinct, s: swap });
  const differ = duplicate.facts.filter((f) => f.take !== "both").length;
  return (
    <>
      <Pane $sheet as="article" aria-label={`${duplicate.keep.name} and ${duplicate.go.name}`}>
        <Inner>
          <Head>
            <div>
              <h1>{duplicate.kind === "account" ? "One company, or two?" : "One person, or two?"}</h1>
              <p>{differ === 0 ? "They say the same in everything." : `They differ in ${differ} ${differ === 1 ? "fact" : "facts"}; the better value is chosen.`}</p>
            </div>
            <Acts>
              <Button onPress={distinct} isPending={busy}>
                Not the same
              </Button>
              <Button ref={go} look="main" onPress={merge} isPending={busy}>
                Merge
              </Button>
            </Acts>
          </Head>
          <PairTable duplicate={duplicate} said={said} onSay={(field, side) => setSaid({ ...said, [field]: side })} onSwap={swap} />
        </Inner>
      </Pane>
      <DuplicateWhy duplicate={duplicate} />
    </>
  );
}

/** The two ways a pair is settled, each with its way back. */
function settling(duplicate: DuplicateSheet, said: Record<string, string>, onSettle: Settle) {
  const { id, keep, go, kind } = duplicate;
  const merge = () =>
    onSettle(
      () => duplicateActs.merge(id, keep.id, said),
      `${go.name} and ${keep.name} are one ${kinds[kind]} now.`,
      async (done) => {
        await duplicateActs.apart((done as { merge: string }).merge);
        // Taken apart they would be two; undone, they are what they were: a question.
        await duplicateActs.ask(id);
      },
    );
  const distinct = () => onSettle(() => duplicateActs.distinct(id), "They are two, and will not be asked about again.", () => duplicateActs.ask(id));
  return { merge, distinct };
}

function usePresses(acts: Record<string, () => void>) {
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      if ((e.target as HTMLElement).closest("input:not([type=radio]), textarea, [role=dialog], [role=listbox]") || e.ctrlKey || e.metaKey) return;
      acts[e.key]?.();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  });
}
