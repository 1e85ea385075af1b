import styled from "styled-components";
import { small } from "../parts/theme";
import type { Choices, Line } from "./landing";

const Rows = styled.div<{ $existing: boolean }>`
  & > div {
    display: grid;
    grid-template-columns: 110px minmax(0, 1fr) ${(p) => (p.$existing ? "minmax(0, 1fr)" : "150px")};
    gap: 4px 12px;
    padding: 7px 0;
    border-bottom: 1px solid var(--hair);
    font-size: 14px;
    align-items: baseline;
  }
  .label {
    ${small}
  }
  .value {
    overflow-wrap: anywhere;
  }
  .gone {
    text-decoration: line-through;
    color: var(--soft);
  }
  .lands {
    ${small}
    padding-left: 12px;
    display: flex;
    justify-content: space-between;
    gap: 10px;
    align-items: baseline;
  }
  fieldset {
    border: 0;
    padding: 0;
    margin: 0;
    min-width: 0;
    color: var(--ink);
  }
  label {
    display: flex;
    gap: 6px;
    align-items: baseline;
    cursor: pointer;
    overflow-wrap: anywhere;
  }
  .drop {
    border: 0;
    background: none;
    padding: 0;
    color: var(--soft);
    font-size: 13px;
    cursor: pointer;
    white-space: nowrap;
  }
  .drop:hover,
  .drop:focus-visible {
    color: var(--ink);
    text-decoration: underline;
    text-underline-offset: 3px;
  }
  @media (max-width: 1023px) {
    & > div {
      grid-template-columns: 96px minmax(0, 1fr);
    }
    .lands {
      grid-column: 2;
      padding-left: 0;
    }
  }
`;

type Props = { lines: Line[]; existing: boolean; choices: Choices; onChoose: (choices: Choices) => void };

/** The lead's facts at the left, what becomes of each at the right: written, the same, to be settled, or left behind on purpose. */
export function FactRows({ lines, existing, choices, onChoose }: Props) {
  const without = (keys: string[], field: string) => keys.filter((k) => k !== field);
  const choose = (field: string, how: How) =>
    onChoose({
      take: how === "theirs" ? [...without(choices.take, field), field] : without(choices.take, field),
      drop: how === "drop" ? [...without(choices.drop, field), field] : without(choices.drop, field),
    });
  return (
    <Rows $existing={existing}>
      {lines.map((l) => (
        <FactRow key={l.field} line={l} existing={existing} isDropped={choices.drop.includes(l.field)} isTaken={choices.take.includes(l.field)} onChoose={(how) => choose(l.field, how)} />
      ))}
    </Rows>
  );
}

type How = "ours" | "theirs" | "drop";
type RowProps = { line: Line; existing: boolean; isDropped: boolean; isTaken: boolean; onChoose: (how: How) => void };

// Where a lead came from is never left behind.
const always = ["source", "campaign"];

function FactRow({ line: l, existing, isDropped, isTaken, onChoose }: RowProps) {
  const other = isDropped ? "carry it" : "leave behind";
  return (
    <div>
      <span className="label">{l.label}</span>
      <span className={`value${isDropped ? " gone" : ""}`}>{l.value}</span>
      <span className="lands">
        {isDropped ? <span>left behind</span> : existing && l.differs ? <Settle line={l} isTaken={isTaken} onChoose={onChoose} /> : <span>{existing && l.existing !== null ? "the same there" : existing ? "fills a blank" : "✓"}</span>}
        {!always.includes(l.field) && (
          <button type="button" className="drop" aria-label={`${other}: ${l.label}`} onClick={() => onChoose(isDropped ? "ours" : "drop")}>
            {other}
          </button>
        )}
      </span>
    </div>
  );
}

function Settle({ line: l, isTaken, onChoose }: Pick<RowProps, "line" | "isTaken" | "onChoose">) {
  const name = `settle-${l.on}-${l.field}`;
  return (
    <fieldset aria-label={`${l.label} differs`}>
      <label>
        <input type="radio" name={name} checked={!isTaken} onChange={() => onChoose("ours")} /> {l.existing} stays
      </label>
      <label>
        <input type="radio" name={name} checked={isTaken} onChange={() => onChoose("theirs")} /> {l.value} instead
      </label>
    </fieldset>
  );
}
