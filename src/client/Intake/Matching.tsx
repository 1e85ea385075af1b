import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { Button } from "../parts/Button";
import { ChoiceBox } from "../parts/Field";
import { small } from "../parts/theme";
import { Plain, Stack } from "../parts/Layout";
import { tell } from "../parts/Toast";
import type { Change } from "./queries";

const Column = styled.li`
  padding: 8px 0;
  border-bottom: 1px solid var(--hair);
  .top {
    display: grid;
    grid-template-columns: minmax(0, 1fr) minmax(0, 150px);
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

type More = Partial<{ country: string; asideUnread: boolean }>;

/** Sends the matching with an edit of each column; a change sifts anew. */
function useMatching({ sieve, change }: Props) {
  const send = (edit: (m: Match) => Partial<Match>, more: More = {}) =>
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
  const only = (column: Match, edit: Partial<Match>) => send((old) => (old.index === column.index ? edit : {}));
  return { choose, only, say: (more: More) => send(() => ({}), more) };
}

const unread = [
  { key: "blank", label: "is left blank" },
  { key: "aside", label: "sets its row aside until it is mended" },
];

/** Each column to a field, with samples and how sure we are. A change sifts anew. */
export function Matching(props: Props) {
  const { sieve, fixed } = props;
  const matching = useMatching(props);
  return (
    <>
      <Plain as="ol">
        {sieve.matching.map((m) => (
          <OneColumn key={m.index} column={m} sieve={sieve} fixed={fixed} matching={matching} />
        ))}
      </Plain>
      <Stack $above={3}>
        <ChoiceBox label="Country where a row names none" value={sieve.country ?? none} isDisabled={fixed} options={[{ key: none, label: "none" }, ...sieve.choices.countries]} onChange={(c) => matching.say({ country: c === none ? "" : c })} />
        <ChoiceBox label="A value that cannot be read" value={sieve.asideUnread ? "aside" : "blank"} isDisabled={fixed} options={unread} onChange={(k) => matching.say({ asideUnread: k === "aside" })} />
      </Stack>
    </>
  );
}

type ColumnProps = { column: Match; sieve: Props["sieve"]; fixed: boolean; matching: ReturnType<typeof useMatching> };

function OneColumn({ column: m, sieve, fixed, matching }: ColumnProps) {
  const name = m.heading.trim() || `column ${m.index + 1}`;
  const targetOf = (key: string | null | undefined) => sieve.targets.find((t) => t.key === key);
  const options = [{ key: none, label: "keep with the row only" }, ...sieve.targets];
  return (
    <Column>
      <div className="top">
        <b>{name}</b>
        <ChoiceBox hideLabel label={`Field for ${name}`} value={m.target ?? none} options={options} isDisabled={fixed} onChange={(t) => (t === none ? matching.only(m, { target: null }) : matching.choose(m, t))} />
      </div>
      <p title={m.samples.join(", ")}>
        {m.target ? `${m.confidence} % sure, ${m.why}` : m.why}
        {m.samples.length > 0 && ` · ${m.samples.slice(0, 3).join(", ")}`}
      </p>
      {m.proposed && !m.target && (
        <p className="note ask">
          Is it {(targetOf(m.proposed)?.label ?? m.proposed).toLowerCase()}?
          <Button isDisabled={fixed} onPress={() => matching.choose(m, m.proposed!)}>
            Yes, take it as such
          </Button>
        </p>
      )}
      {m.note && <p className="note">{m.note}</p>}
      <Conventions column={m} name={name} type={targetOf(m.target)?.type} fixed={fixed} onSay={(edit) => matching.only(m, edit)} />
    </Column>
  );
}

type ConventionProps = { column: Match; name: string; type?: string | null; fixed: boolean; onSay: (edit: Partial<Match>) => void };

// How dates and numbers of a column are written: as the column shows, or as a person says.
function Conventions({ column: m, name, type, fixed, onSay }: ConventionProps) {
  const shown = (words: string) => ({ key: byColumn, label: `${byColumn}: ${words}` });
  if (type === "date")
    return (
      <ChoiceBox
        hideLabel
        label={`Order of dates in ${name}`}
        value={m.said ? (m.dates ?? byColumn) : byColumn}
        isDisabled={fixed}
        options={[shown(orders.find((o) => o.key === m.dates)?.label ?? "no dates"), ...orders]}
        onChange={(k) => onSay(k === byColumn ? { said: false } : { said: true, dates: k as Match["dates"] })}
      />
    );
  if ((type !== "number" && type !== "money") || !m.decimals || m.decimals === "either") return null;
  return (
    <ChoiceBox
      hideLabel
      label={`Decimals in ${name}`}
      value={m.said ? m.decimals : byColumn}
      isDisabled={fixed}
      options={[shown(marks.find((o) => o.key === m.decimals)?.label ?? ""), ...marks]}
      onChange={(k) => onSay(k === byColumn ? { said: false } : { said: true, decimals: k as Match["decimals"] })}
    />
  );
}
