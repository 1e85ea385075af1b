import { parseDate, parseDateTime, toCalendarDate } from "@internationalized/date";
import { type ComponentProps, useEffect, useRef, useState } from "react";
import {
  Button,
  Calendar,
  CalendarCell,
  CalendarGrid,
  CalendarGridBody,
  CalendarGridHeader,
  CalendarHeaderCell,
  DateInput,
  DatePicker,
  DateSegment,
  type DateValue,
  Dialog,
  FieldError,
  Group,
  Heading,
  I18nProvider,
  Label,
  Text,
} from "react-aria-components";
import styled from "styled-components";
import { box, Float, Wrap } from "./Field";
import { spelled } from "./format";

const Box = styled(Group)`
  ${box}
  display: flex;
  align-items: center;
  gap: 6px;
  padding: 2px 3px 2px 10px;
  &[data-focus-within] {
    border-color: var(--slate);
    outline: 1px solid var(--slate);
  }
  .react-aria-DateInput {
    display: flex;
    flex: 1;
    min-width: 0;
  }
  .react-aria-DateSegment {
    padding: 0 1px;
    border-radius: 2px;
    outline: none;
    font-variant-numeric: tabular-nums;
    &[data-placeholder] {
      color: var(--soft);
    }
    &[data-focused] {
      background: var(--slate);
      color: var(--sheet);
    }
  }
  .react-aria-Button {
    display: grid;
    place-items: center;
    width: 28px;
    height: 28px;
    border: 0;
    border-radius: 3px;
    background: none;
    color: var(--soft);
    cursor: pointer;
    &[data-hovered],
    &[data-focus-visible] {
      background: var(--slate-wash);
    }
  }
`;

const Month = styled(Calendar)`
  padding: 10px 12px 12px;
  header {
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
` as typeof Calendar;

type Props = { label: string; value: string; onChange: (value: string) => void; hint?: string; error?: string; autoFocus?: boolean; isDisabled?: boolean; "aria-label"?: string };

type Kind = { granularity: "day" | "minute"; parse: (text: string) => DateValue; written: (value: DateValue) => string };

const days: Kind = { granularity: "day", parse: parseDate, written: (day) => day.toString() };
const moments: Kind = { granularity: "minute", parse: parseDateTime, written: (at) => at.toString().slice(0, 16) };

// No day, as long as what is there is none.
function read({ parse }: Kind, text: string) {
  try {
    return text ? parse(text) : null;
  } catch {
    return null;
  }
}

// A whole day that no calendar has, such as 31 February.
function unrealDay(parts: HTMLElement | null) {
  const of = (type: string) => Number(parts?.querySelector(`[data-type=${type}]`)?.getAttribute("aria-valuenow"));
  const [day, month, year] = [of("day"), of("month"), of("year")] as const;
  return day > new Date(year, month, 0).getDate() ? `${day} ${new Date(year, month - 1, 1).toLocaleString("en-GB", { month: "long" })} ${year}` : undefined;
}

function Part({ segment, onDrawn }: { segment: ComponentProps<typeof DateSegment>["segment"]; onDrawn: () => void }) {
  useEffect(onDrawn);
  return <DateSegment segment={segment} />;
}

// Day before month, as everywhere on screen, whatever the browser is set to; below it the day with its name, so that 3/4 is no riddle.
function Picker({ kind, label, hint, error, value, onChange, ...props }: Props & { kind: Kind }) {
  const [picked, setPicked] = useState(() => read(kind, value));
  const [told, setTold] = useState(value);
  const [isPartial, setPartial] = useState(false);
  const [isIn, setIn] = useState(false);
  const [moved, setMoved] = useState<{ to: string; from: string }>();
  const parts = useRef<HTMLDivElement>(null);
  const unreal = useRef<string>(undefined);
  if (told !== value) {
    setTold(value);
    setPicked(read(kind, value));
  }
  const tell = (next: string) => {
    if (next === told) return;
    setTold(next);
    onChange(next);
  };
  // The picker keeps the day before for as long as a part is missing; to the caller it is none until it is whole.
  const look = () => {
    const all = parts.current?.querySelectorAll("[role=spinbutton]").length ?? 0;
    const missing = parts.current?.querySelectorAll("[role=spinbutton][data-placeholder]").length ?? 0;
    setPartial(missing > 0 && missing < all);
    const next = !picked || missing > 0 ? "" : kind.written(picked);
    // A day that its month does not have becomes the last one when its parts are left; that is said.
    const written = missing ? undefined : unrealDay(parts.current);
    if (unreal.current && !written && next && document.activeElement?.role !== "spinbutton") setMoved({ from: unreal.current, to: next });
    unreal.current = written;
    tell(next);
  };
  const gone = moved?.to === told ? `There is no ${moved.from}; it became the last of the month.` : undefined;
  const wrong = error ?? (isPartial && !isIn ? "A part of it is missing." : gone);
  const said = [picked && told && spelled(toCalendarDate(picked).toString()), hint].filter(Boolean).join(" \u00b7 ");
  return (
    <I18nProvider locale="en-GB">
      <Wrap>
        <DatePicker {...props} granularity={kind.granularity} value={picked} onChange={setPicked} isInvalid={!!wrong} onFocusChange={setIn} validationBehavior="aria" hourCycle={24} shouldForceLeadingZeros>
          {label && <Label>{label}</Label>}
          <Box ref={parts}>
            <DateInput>{(segment) => <Part segment={segment} onDrawn={look} />}</DateInput>
            <Button aria-label="Calendar">
              <svg width="14" height="14" viewBox="0 0 14 14" fill="none" stroke="currentColor" aria-hidden>
                <path d="M1.5 3.5h11v9h-11zM1.5 6.5h11M4.5 1.5v3M9.5 1.5v3" />
              </svg>
            </Button>
          </Box>
          {said && (
            <Text slot="description" className="hint">
              {said}
            </Text>
          )}
          <FieldError>{wrong}</FieldError>
          <Float>
            <Dialog>
              <Month>
                <header>
                  <Button slot="previous">{"\u2039"}</Button>
                  <Heading />
                  <Button slot="next">{"\u203a"}</Button>
                </header>
                <CalendarGrid weekdayStyle="short">
                  <CalendarGridHeader>{(name) => <CalendarHeaderCell>{name}</CalendarHeaderCell>}</CalendarGridHeader>
                  <CalendarGridBody>{(date) => <CalendarCell date={date} />}</CalendarGridBody>
                </CalendarGrid>
              </Month>
            </Dialog>
          </Float>
        </DatePicker>
      </Wrap>
    </I18nProvider>
  );
}

/** A calendar day as 2026-11-23; "" while there is none, or not a whole one. */
export const DayBox = (props: Props) => <Picker {...props} kind={days} />;

/** A day and a time of day, in whatever zone the caller means, as 2026-11-23T09:00; "" while there is none, or not a whole one. */
export const MomentBox = (props: Props) => <Picker {...props} kind={moments} />;
