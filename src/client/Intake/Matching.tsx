import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { Button } from "../parts/Button";
import { ChoiceBox } from "../parts/Field";
import { small } from "../parts/theme";
import { tell } from "../parts/Toast";
import type { Change } from "./queries";

const Column = styled.li`
  padding: 8px 0;
  border-bottom: 1px solid var(--hair);
  .top {
    display: grid;
    grid-template-columns: 1fr 150px;
    gap: 10px;
    align-items: center;
  }
  b {
    font-weight: 600;
    font-size: 14px;
    overflow-wrap: anywhere;
  }
  p {
    ${small}
    font-size: 12px;
    margin-top: 3px;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  p.note {
    white-space: normal;
    color: var(--lamp-ink);
  }
  p.ask {
    display: flex;
    flex-wrap: wrap;
    gap: 6px 10px;
    align-items: center;
    font-size: 13px;
  }
`;

const none = "–";
const byColumn = "as the column shows";
const orders = [
  { key: "dayFirst", label: "day first" },
  { key: "monthFirst", label: "month first" },
  { key: "either", label: "each by itself" },
];
const marks = [
  { key: "point", label: "point before decimals" },
  { key: "comma", label: "comma before decimals" },
];

type Match = Schema["ColumnMatch"];
type Props = { sieve: Schema["SieveView"]; fixed: boolean; change: Change };

/** Each column to a field, with samples and how sure we are. A change sifts anew. */
export function Matching({ sieve, fixed, change }: Props) {
  const send = (edit: (m: Match) => Partial<Match>, more: Partial<{ country: string; asideUnread: boolean }> = {}) =>
    change(() => {
      const columns = sieve.matching.map((old) => {
        const m = { ...old, ...edit(old) };
        return { target: m.target ?? "", dates: m.said ? m.dates : null, decimals: m.said ? m.decimals : null };
      });
      return must(api.PUT("/api/imports/{id}/matching", { params: { path: { id: sieve.import.id } }, body: { columns, country: sieve.country ?? "", asideUnread: sieve.asideUnread, ...more } }));
    });
  // A field that takes one column goes to the column chosen last; the one that had it before is kept with the row, and says so.
  const choose = (column: Match, target: string) => {
    const gathers = sieve.targets.find((t) => t.key === target)?.gathers;
    const before = gathers ? undefined : sieve.matching.find((m) => m.target === target && m.index !== column.index);
    send((old) => (old.index === column.index ? { target } : old.index === before?.index ? { target: null } : {}));
    if (before) tell(`${before.heading.trim() || `Column ${before.index + 1}`} is now kept with the row only.`);
  };
  const options = [{ key: none, label: "keep with the row only" }, ...sieve.targets];
  const typeOf = (m: Match) => sieve.targets.find((t) => t.key === m.target)?.type;
  return (
    <>
      <ol style={{ listStyle: "none", padding: 0 }}>
        {sieve.matching.map((m) => {
          const name = m.heading.trim() || `column ${m.index + 1}`;
          const only = (with_: Partial<Match>) => send((old) => (old.index === m.index ? with_ : {}));
          const type = typeOf(m);
          return (
            <Column key={m.index}>
              <div className="top">
                <b>{name}</b>
                <ChoiceBox hideLabel label={`Field for ${name}`} value={m.target ?? none} options={options} isDisabled={fixed} onChange={(t) => (t === none ? only({ target: null }) : choose(m, t))} />
              </div>
              <p title={m.samples.join(", ")}>
                {m.target ? `${m.confidence} % sure, ${m.why}` : m.why}
                {m.samples.length > 0 && ` · ${m.samples.slice(0, 3).join(", ")}`}
              </p>
              {m.proposed && !m.target && (
                <p className="note ask">
                  Is it {(sieve.targets.find((t) => t.key === m.proposed)?.label ?? m.proposed).toLowerCase()}?
                  <Button isDisabled={fixed} onPress={() => choose(m, m.proposed!)}>
                    Yes, take it as such
                  </Button>
                </p>
              )}
              {m.note && <p className="note">{m.note}</p>}
              {type === "date" && (
                <ChoiceBox hideLabel label={`Order of dates in ${name}`} value={m.said ? (m.dates ?? byColumn) : byColumn} isDisabled={fixed} options={[{ key: byColumn, label: `${byColumn}: ${orders.find((o) => o.key === m.dates)?.label ?? "no dates"}` }, ...orders]} onChange={(k) => only(k === byColumn ? { said: false } : { said: true, dates: k as Match["dates"] })} />
              )}
              {(type === "number" || type === "money") && m.decimals && m.decimals !== "either" && (
                <ChoiceBox hideLabel label={`Decimals in ${name}`} value={m.said ? m.decimals : byColumn} isDisabled={fixed} options={[{ key: byColumn, label: `${byColumn}: ${marks.find((o) => o.key === m.decimals)?.label}` }, ...marks]} onChange={(k) => only(k === byColumn ? { said: false } : { said: true, decimals: k as Match["decimals"] })} />
              )}
            </Column>
          );
        })}
      </ol>
      <div style={{ display: "grid", gap: 10, marginTop: 12 }}>
        <ChoiceBox label="Country where a row names none" value={sieve.country ?? none} isDisabled={fixed} options={[{ key: none, label: "none" }, ...sieve.choices.countries]} onChange={(c) => send(() => ({}), { country: c === none ? "" : c })} />
        <ChoiceBox
          label="A value that cannot be read"
          value={sieve.asideUnread ? "aside" : "blank"}
          isDisabled={fixed}
          options={[
            { key: "blank", label: "is left blank" },
            { key: "aside", label: "sets its row aside until it is mended" },
          ]}
          onChange={(k) => send(() => ({}), { asideUnread: k === "aside" })}
        />
      </div>
    </>
  );
}
