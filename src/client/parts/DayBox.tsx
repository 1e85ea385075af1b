import { useState, type KeyboardEvent } from "react";
import { Button, DialogTrigger, FieldError, Group, Input, Label, Text, TextField } from "react-aria-components";
import styled from "styled-components";
import { dayOf, plusDays } from "./days";
import { box, Wrap } from "./Field";
import { personForm } from "./form";
import { spelled } from "./format";
import { Hanging } from "./Hanging";
import { Month } from "./Month";
import { readDay, readMoment, writeDay, writeMoment } from "./readDate";
import { useTyped, type Reading } from "./typed";

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
  &[data-invalid] {
    border-color: var(--bad);
  }
  && input {
    flex: 1;
    min-width: 0;
    min-height: 28px;
    padding: 0;
    border: 0;
    background: none;
    outline: none;
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

export type DayProps = {
  label: string;
  value: string;
  onChange: (value: string) => void;
  hint?: string;
  error?: string;
  autoFocus?: boolean;
  isDisabled?: boolean;
  "aria-label"?: string;
  /** True where days behind us are meant. */
  past?: boolean;
};

type Kind = Reading & {
  /** The day of a value, and a value with another day. */
  dayOf: (value: string) => string;
  withDay: (value: string, day: string) => string;
  like: string;
};

const asked = (past?: boolean) => ({ today: dayOf(Date.now(), personForm().zone), order: personForm().dates, past });

const days: Kind = {
  read: (text, past) => readDay(text, asked(past)),
  write: (value) => writeDay(value, personForm().dates),
  dayOf: (value) => value,
  withDay: (_, day) => day,
  like: "like 15 Jan, fri or in 3 weeks",
};

const moments: Kind = {
  read: (text, past, before) => readMoment(text, asked(past), before.slice(11, 16) || undefined),
  write: (value) => writeMoment(value, personForm().dates),
  dayOf: (value) => value.slice(0, 10),
  withDay: (value, day) => `${day}T${value.slice(11, 16) || "09:00"}`,
  like: "like fri 14:30, tomorrow 9 or 15 Jan 9:30",
};

function Picker({ kind, ...props }: DayProps & { kind: Kind }) {
  const { label, hint, error, autoFocus, isDisabled } = props;
  const typed = useTyped(kind, props);
  const [isIn, setIn] = useState(false);
  const [open, setOpen] = useState(false);
  const wrong = error ?? (typed.isUnread && !isIn ? `This is no day a calendar has; write it ${kind.like}.` : undefined);
  const meant = typed.at && spelled(kind.dayOf(typed.at)) + (kind === moments ? ` ${typed.at.slice(11, 16)}` : "");
  const step = (e: KeyboardEvent) => {
    const by = { ArrowUp: 1, ArrowDown: -1, PageUp: 7, PageDown: -7 }[e.key];
    if (e.altKey && e.key === "ArrowDown") setOpen(true);
    else if (by && typed.at) typed.put(kind.withDay(typed.at, plusDays(kind.dayOf(typed.at), by)));
    else return;
    e.preventDefault();
  };
  return (
    <Wrap>
      <TextField value={typed.text} onChange={typed.type} aria-label={props["aria-label"]} autoFocus={autoFocus} isDisabled={isDisabled} isInvalid={!!wrong} validationBehavior="aria" onFocus={() => setIn(true)} onBlur={() => (setIn(false), typed.settle())}>
        {label && <Label>{label}</Label>}
        <Box data-invalid={wrong ? true : undefined}>
          <Input autoComplete="off" onKeyDown={step} />
          <DialogTrigger isOpen={open} onOpenChange={setOpen}>
            <Button aria-label={`Calendar for ${(label || props["aria-label"]) ?? "the day"}`} isDisabled={isDisabled}>
              <svg width="14" height="14" viewBox="0 0 14 14" fill="none" stroke="currentColor" aria-hidden>
                <path d="M1.5 3.5h11v9h-11zM1.5 6.5h11M4.5 1.5v3M9.5 1.5v3" />
              </svg>
            </Button>
            <Hanging label="Calendar" placement="bottom end">
                <Month
                  day={typed.at && kind.dayOf(typed.at)}
                  onChoose={(day) => {
                    typed.put(kind.withDay(typed.at, day));
                    setOpen(false);
                  }}
                />
            </Hanging>
          </DialogTrigger>
        </Box>
        {(meant || hint) && (
          <Text slot="description" className="hint">
            {[meant, hint].filter(Boolean).join(" \u00b7 ")}
          </Text>
        )}
        <FieldError>{wrong}</FieldError>
      </TextField>
    </Wrap>
  );
}

/** A calendar day as 2026-11-23, typed as people write it; "" while there is none, or none that can be read. */
export const DayBox = (props: DayProps) => <Picker {...props} kind={days} />;

/** A day and a time of day, in whatever zone the caller means, as 2026-11-23T09:00; "" while there is none, or none that can be read. */
export const MomentBox = (props: DayProps) => <Picker {...props} kind={moments} />;
