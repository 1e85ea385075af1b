import { useEffect, type ReactNode } from "react";
import styled from "styled-components";
import { Pane } from "./Bench";
import { small } from "./theme";

const List = styled(Pane)<{ $behind: boolean }>`
  ${(p) => (p.$behind ? "width: 420px; flex: none;" : "flex: 1;")}
  display: flex;
  flex-direction: column;
  overflow: hidden;
  @media (max-width: 1100px) {
    ${(p) => p.$behind && "width: 340px;"}
  }
  @media (max-width: 767px) {
    width: auto;
    display: ${(p) => (p.$behind ? "none" : "flex")};
    min-height: 70vh;
  }
  @media print {
    display: ${(p) => (p.$behind ? "none" : "block")};
    overflow: visible;
  }
`;

const ListHead = styled.div`
  padding: 10px 18px 8px;
  border-bottom: 1px solid var(--hair);
`;

/** A line under a list's head: how many there are, and what one does with all of them. */
export const Under = styled.div`
  ${small}
  display: flex;
  flex-wrap: wrap;
  gap: 2px 16px;
  align-items: center;
  margin-top: 3px;
  b {
    color: var(--ink);
  }
  & > span:first-child {
    margin-right: auto;
  }
`;

type ListProps = { label: string; isBehind: boolean; head: ReactNode; children: ReactNode };

/** A list of records: which ones at the top, the rows below. Behind an open record it is narrow, and gone on a phone. */
export function ListShell({ label, isBehind, head, children }: ListProps) {
  return (
    <List as="section" aria-label={label} $behind={isBehind} data-landing="list">
      <ListHead>{head}</ListHead>
      {children}
    </List>
  );
}

const Record = styled(Pane)`
  container-type: inline-size;
`;

const Inner = styled.div`
  padding: 12px 24px 32px;
  @media (max-width: 767px) {
    padding: 14px 16px 24px;
  }
`;

const Top = styled.header`
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  gap: 8px 16px;
  p {
    color: var(--soft);
  }
  & > :first-child {
    flex: 1 1 260px;
    min-width: 0;
  }
`;

/** One press each: how a record's people are reached. */
export const Reach = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 2px 16px;
  margin-top: 4px;
  font-size: 14px;
  a {
    overflow-wrap: anywhere;
  }
`;

/** What one needs at a glance: a few fields beside each other, between two hairlines. */
export const Glance = styled.div`
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr)) auto;
  gap: 8px 16px;
  align-items: end;
  margin: 10px 0 0;
  padding: 8px 0 10px;
  border-block: 1px solid var(--hair);
  @container (max-width: 460px) {
    grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  }
`;

const Belongs = styled.dl`
  margin: 0;
  padding: 6px 0;
  border-bottom: 1px solid var(--hair);
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  column-gap: 16px;
  /* Of a record with much around it the composer and the newest entry are still seen; what is written in it has the room it needs. */
  @media (min-width: 768px) and (max-height: 900px) {
    &:not(:has(form)) {
      position: relative;
      max-height: 236px;
      overflow-y: auto;
    }
  }
  & > div {
    grid-column: 1 / -1;
    display: grid;
    grid-template-columns: 88px minmax(0, 1fr);
    gap: 10px;
    align-items: baseline;
    min-height: 28px;
  }
  dt {
    ${small}
  }
  dd {
    margin: 0;
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 2px 12px;
    font-size: 14px;
    min-width: 0;
  }
  @container (min-width: 440px) {
    & > div[data-half] {
      grid-column: auto;
    }
  }
`;

/** What belongs to a record: a line each, with its name before it. */
export const Strip = ({ label, children }: { label: string; children: ReactNode }) => <Belongs aria-label={label}>{children}</Belongs>;

/** A line of a {@link Strip}; two `half` ones beside each other where there is room. */
export const StripLine = ({ name, half, children }: { name: string; half?: boolean; children: ReactNode }) => (
  <div data-half={half || undefined}>
    <dt>{name}</dt>
    <dd>{children}</dd>
  </div>
);

type RecordProps = {
  name: string;
  /** Under the name: what the record is. */
  line: ReactNode;
  /** At the right of the name: its score, amount or state. */
  measure?: ReactNode;
  reach?: ReactNode;
  /** From the top: what one needs at a glance, the picture of it in time, what belongs to it, where one writes, what comes next and what was. */
  children: ReactNode;
  onBack: () => void;
};

/** A record's page; its parts stand in the order of `children`. Esc goes back to the list. */
export function RecordShell({ name, line, measure, reach, children, onBack }: RecordProps) {
  useEffect(() => {
    const back = (e: KeyboardEvent) => e.key === "Escape" && !e.defaultPrevented && !(e.target as HTMLElement).closest("input, textarea, [role=dialog], [role=listbox], [role=alertdialog]") && onBack();
    window.addEventListener("keydown", back);
    return () => window.removeEventListener("keydown", back);
  });
  return (
    <Record $sheet as="article" aria-label={name}>
      <Inner>
        <Top>
          <div>
            <h1>{name}</h1>
            <p>{line}</p>
            {reach && <Reach>{reach}</Reach>}
          </div>
          {measure}
        </Top>
        {children}
      </Inner>
    </Record>
  );
}
