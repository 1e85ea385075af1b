import { Link } from "react-router";
import styled from "styled-components";
import { Button } from "../parts/Button";
import { day } from "../parts/format";
import { small } from "../parts/theme";
import type { DuplicateSheet } from "./queries";

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

type Fact = DuplicateSheet["facts"][number];
type Side = "keep" | "go";

type Props = { duplicate: DuplicateSheet; said: Record<string, string>; onSay: (field: string, side: Side) => void; onSwap: () => void };

/** What each of a pair says: where they differ, the value that is taken is chosen; what they share stands below. */
export function PairTable({ duplicate, said, onSay, onSwap }: Props) {
  const differ = duplicate.facts.filter((f) => f.take !== "both");
  const alike = duplicate.facts.filter((f) => f.take === "both");
  return (
    <Sheet>
      <colgroup>
        <col />
        <col />
        <col />
      </colgroup>
      <thead>
        <tr>
          <th scope="col">
            <Button look="quiet" onPress={onSwap}>
              Swap
            </Button>
          </th>
          <SideHead of="Stays" kind={duplicate.kind} head={duplicate.keep} />
          <SideHead of="Goes into it" kind={duplicate.kind} head={duplicate.go} />
        </tr>
      </thead>
      <tbody>
        {differ.map((f) => (
          <tr key={f.field}>
            <th scope="row">{f.label}</th>
            {(["keep", "go"] as const).map((side) => (
              <td key={side}>
                <Choice fact={f} side={side} isTaken={(said[f.field] ?? f.take) === side} onSay={onSay} />
              </td>
            ))}
          </tr>
        ))}
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
  );
}

function Choice({ fact: f, side, isTaken, onSay }: { fact: Fact; side: Side; isTaken: boolean; onSay: Props["onSay"] }) {
  const value = f[side];
  return (
    <Value $on={isTaken}>
      <input type="radio" name={f.field} checked={isTaken} onChange={() => onSay(f.field, side)} aria-label={`${f.label}: ${value ?? "leave blank"}`} />
      <span>
        {value ?? "not known"} {value && f.take === side && f.why && f.why !== "not known here" && <small>{f.why}</small>}
      </span>
    </Value>
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
