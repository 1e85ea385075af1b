import { parseDate, type CalendarDate } from "@internationalized/date";
import { Button, Calendar, CalendarCell, CalendarGrid, CalendarGridBody, CalendarGridHeader, CalendarHeaderCell, Heading, I18nProvider } from "react-aria-components";
import styled from "styled-components";
import { localeOf, personForm } from "./form";

const Sheet = styled(Calendar)`
  padding: 10px 12px 12px;
  .top {
    display: flex;
    align-items: center;
    justify-content: space-between;
    margin-bottom: 6px;
  }
  h2 {
    font-size: 15px;
    font-weight: 650;
  }
  .react-aria-Button {
    width: 30px;
    height: 30px;
    border: 0;
    border-radius: 3px;
    background: none;
    font-size: 18px;
    cursor: pointer;
    &[data-hovered],
    &[data-focus-visible] {
      background: var(--slate-wash);
    }
  }
  th {
    font-size: 12px;
    font-weight: 400;
    color: var(--soft);
  }
  .react-aria-CalendarCell {
    width: 32px;
    height: 30px;
    display: grid;
    place-items: center;
    border-radius: 3px;
    cursor: pointer;
    outline: none;
    font-variant-numeric: tabular-nums;
    &[data-outside-month] {
      visibility: hidden;
    }
    &[data-today] {
      font-weight: 650;
      text-decoration: underline;
    }
    &[data-hovered] {
      background: var(--slate-wash);
    }
    &[data-focus-visible] {
      outline: 2px solid var(--slate);
    }
    &[data-selected] {
      background: var(--slate);
      color: var(--sheet);
    }
  }
` as typeof Calendar<CalendarDate>;

/** A month to choose a day from, its week beginning as the person's does. */
export function Month({ day, onChoose }: { day: string; onChoose: (day: string) => void }) {
  return (
    <I18nProvider locale={localeOf(personForm().dates) === "en-US" ? "en-US" : "en-GB"}>
      <Sheet aria-label="Choose a day" autoFocus value={day ? parseDate(day) : null} onChange={(chosen) => onChoose(chosen.toString())}>
        <div className="top">
          <Button slot="previous">{"\u2039"}</Button>
          <Heading />
          <Button slot="next">{"\u203a"}</Button>
        </div>
        <CalendarGrid weekdayStyle="short">
          <CalendarGridHeader>{(name) => <CalendarHeaderCell>{name}</CalendarHeaderCell>}</CalendarGridHeader>
          <CalendarGridBody>{(date) => <CalendarCell date={date} />}</CalendarGridBody>
        </CalendarGrid>
      </Sheet>
    </I18nProvider>
  );
}
