import { FieldError, Input, Label, Text, TextField } from "react-aria-components";
import type { DayProps } from "./DayBox";
import { Wrap } from "./Field";
import { readTime } from "./readDate";
import { useTyped, type Reading } from "./typed";

const times: Reading = { read: (text) => readTime(text), write: (value) => value };

/** A time of day as 09:30; "" while there is none, or none that can be read. */
export function TimeBox({ label, hint, error, isDisabled, autoFocus, ...props }: Omit<DayProps, "past">) {
  const { text, at, isUnread, type, settle } = useTyped(times, props);
  const wrong = error ?? (isUnread ? "This is no time of day; write it like 9:30, 14 or 2 pm." : undefined);
  const meant = at && at !== text ? `= ${at}` : hint;
  return (
    <Wrap>
      <TextField value={text} onChange={type} aria-label={props["aria-label"]} autoFocus={autoFocus} isDisabled={isDisabled} isInvalid={!!wrong} validationBehavior="aria" onBlur={settle}>
        {label && <Label>{label}</Label>}
        <Input autoComplete="off" />
        {meant && (
          <Text slot="description" className="hint">
            {meant}
          </Text>
        )}
        <FieldError>{wrong}</FieldError>
      </TextField>
    </Wrap>
  );
}
