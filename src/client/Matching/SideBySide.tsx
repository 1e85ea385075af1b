import { useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import styled from "styled-components";
import { Head, Inner, Pane } from "../parts/Bench";
import { Button } from "../parts/Button";
import { day } from "../parts/format";
import { small } from "../parts/theme";
import { DuplicateWhy } from "./DuplicateWhy";
import { duplicateActs, useDuplicate, type DuplicateSheet } from "./queries";

const Sheet = styled.table`
  width: 100%;
  border-collapse: collapse;
  table-layout: fixed;
  margin-top: 18px;
  col:first-child {
    width: 110px;
  }
  th {
    text-align: left;
    font-weight: 450;
    vertical-align: top;
    padding: 7px 10px 7px 0;
    ${small}
  }
  thead th {
    border-top: 3px solid var(--ink);
    border-bottom: 1px solid var(--mark);
    color: var(--ink);
    padding: 10px 14px 10px 0;
    b {
      display: block;
      font-size: 15px;
      font-weight: 620;
    }
  }
  tbody tr {
    border-bottom: 1px solid var(--hair);
  }
  td {
    padding: 3px 14px 3px 0;
    font-size: 14px;
    vertical-align: top;
    overflow-wrap: anywhere;
  }
  td[colspan] {
    padding: 7px 14px 7px 0;
  }
  td small {
    ${small}
    font-size: 12px;
  }
`;

const Value = styled.label<{ $on: boolean }>`
  display: grid;
  grid-template-columns: 18px minmax(0, 1fr);
  gap: 8px;
  align-items: baseline;
  padding: 4px 0;
  min-height: 30px;
  cursor: pointer;
  color: ${(p) => (p.$on ? "var(--ink)" : "var(--soft)")};
  font-weight: ${(p) => (p.$on ? 560 : 420)};
  input {
    accent-color: var(--slate);
    margin: 0;
    width: 16px;
    height: 16px;
    align-self: center;
  }
`;

const Acts = styled.div`
  display: flex;
  gap: 8px;
  flex: none;
`;

type Settle = (act: () => Promise<unknown>, told: string, undo: (done: unknown) => Promise<unknown>) => Promise<void>;

const kinds: Record<string, string> = { lead: "lead", contact: "contact", account: "account" };

/** A pair with what each says; the better value is chosen and can be chosen otherwise. Enter merges, `x` says they are two. */
export function SideBySide({ duplicate: first, onSettle }: { duplicate: DuplicateSheet; onSettle: Settle }) {
  const [keep, setKeep] = useState(first.keep.id);
  // The same pair with the other one kept, once that is asked for.
  const swapped = useDuplicate(keep === first.keep.id ? undefined : first.id, keep);
  const duplicate = keep !== first.keep.id && swapped.data ? swapped.data : first;
  const [said, setSaid] = useState<Record<string, string>>({});
  const [busy, setBusy] = useState(false);
  const go = useRef<HTMLButtonElement>(null);
  useEffect(() => go.current?.focus(), []);

  const settle: Settle = async (...how) => {
    if (busy) return;
    setBusy(true);
    await onSettle(...how);
    setBusy(false);
  };
  const merge = () => settle(() => duplicateActs.merge(duplicate.id, duplicate.keep.id, said), `${duplicate.go.name} and ${duplicate.keep.name} are one ${kinds[duplicate.kind]} now.`, async (done) => {
      await duplicateActs.apart((done as { merge: string }).merge);
      // Taken apart they would be two; undone, they are what they were: a question.
      await duplicateActs.ask(duplicate.id);
    });
  const distinct = () => settle(() => duplicateActs.distinct(duplicate.id), "They are two, and will not be asked about again.", () => duplicateActs.ask(duplicate.id));
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      if ((e.target as HTMLElement).closest("input:not([type=radio]), textarea, [role=dialog], [role=listbox]") || e.ctrlKey || e.metaKey) return;
      if (e.key === "x") void distinct();
      if (e.key === "s") setKeep(duplicate.go.id);
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  });
  const differ = duplicate.facts.filter((f) => f.take !== "both");
  const alike = duplicate.facts.filter((f) => f.take === "both");
  return (
    <>
      <Pane $sheet as="article" aria-label={`${duplicate.keep.name} and ${duplicate.go.name}`}>
        <Inner>
          <Head>
            <div>
              <h1>{duplicate.kind === "account" ? "One company, or two?" : "One person, or two?"}</h1>
              <p>
                {differ.length === 0 ? "They say the same in everything." : `They differ in ${differ.length} ${differ.length === 1 ? "fact" : "facts"}; the better value is chosen.`}
              </p>
            </div>
            <Acts>
              <Button onPress={() => void distinct()} isDisabled={busy}>
                Not the same
              </Button>
              <Button ref={go} look="main" onPress={() => void merge()} isDisabled={busy}>
                Merge
              </Button>
            </Acts>
          </Head>
          <Sheet>
            <colgroup>
              <col />
              <col />
              <col />
            </colgroup>
            <thead>
              <tr>
                <th scope="col">
                  <Button look="quiet" onPress={() => setKeep(duplicate.go.id)}>
                    Swap
                  </Button>
                </th>
                <SideHead of="Stays" kind={duplicate.kind} head={duplicate.keep} />
                <SideHead of="Goes into it" kind={duplicate.kind} head={duplicate.go} />
              </tr>
            </thead>
            <tbody>
              {differ.map((f) => {
                const take = said[f.field] ?? f.take;
                const choose = (side: string) => setSaid({ ...said, [f.field]: side });
                return (
                  <tr key={f.field}>
                    <th scope="row">{f.label}</th>
                    {(["keep", "go"] as const).map((side) => (
                      <td key={side}>
                        {f[side] ? (
                          <Value $on={take === side}>
                            <input type="radio" name={f.field} checked={take === side} onChange={() => choose(side)} aria-label={`${f.label}: ${f[side]}`} />
                            <span>
                              {f[side]} {f.take === side && f.why && f.why !== "not known here" && <small>{f.why}</small>}
                            </span>
                          </Value>
                        ) : (
                          <Value $on={take === side}>
                            <input type="radio" name={f.field} checked={take === side} onChange={() => choose(side)} aria-label={`${f.label}: leave blank`} />
                            <span>not known</span>
                          </Value>
                        )}
                      </td>
                    ))}
                  </tr>
                );
              })}
              {alike.map((f) => (
                <tr key={f.field}>
                  <th scope="row">{f.label}</th>
                  <td colSpan={2}>
                    {f.keep} <small>both</small>
                  </td>
                </tr>
              ))}
            </tbody>
          </Sheet>
        </Inner>
      </Pane>
      <DuplicateWhy duplicate={duplicate} />
    </>
  );
}

function SideHead({ of, kind, head }: { of: string; kind: string; head: DuplicateSheet["keep"] }) {
  return (
    <th scope="col">
      {of}
      <b>{kind === "lead" ? <Link to={`/leads/${head.id}`}>{head.name}</Link> : head.name}</b>
      {head.line}, since {day(head.createdAt)}
    </th>
  );
}
