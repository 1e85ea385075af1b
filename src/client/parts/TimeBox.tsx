import { useState } from "react";
import { FieldError, Input, Label, Text, TextField } from "react-aria-components";
import type { DayProps } from "./DayBox";
import { Wrap } from "./Field";
import { readTime } from "./readDate";
import { useUnread } from "./unread";

/** A time of day as 09:30; "" while there is none, or none that can be read. */
export function TimeBox({ label, value, onChange, hint, error, isDisabled, autoFocus, ...props }: Omit<DayProps, "past">) {
  const [text, setText] = useState(value);
  const [told, setTold] = useState(value);
  if (told !== value) {
    setTold(value);
    setText(value);
  }
  const isUnread = text.trim() !== "" && !told;
  useUnread(isUnread);
  const type = (typed: string) => {
    setText(typed);
    const next = readTime(typed) ?? "";
    setTold(next);
    if (next !== value) onChange(next);
  };
  const wrong = error ?? (isUnread ? "This is no time of day; write it like 9:30, 14 or 2 pm." : undefined);
  return (
    <Wrap>
      <TextField value={text} onChange={type} aria-label={props["aria-label"]} autoFocus={autoFocus} isDisabled={isDisabled} isInvalid={!!wrong} validationBehavior="aria" onBlur={() => told && setText(told)}>
        {label && <Label>{label}</Label>}
        <Input autoComplete="off" />
        {(told && told !== text ? `= ${told}` : hint) && (
          <Text slot="description" className="hint">
            {told && told !== text ? `= ${told}` : hint}
          </Text>
        )}
        <FieldError>{wrong}</FieldError>
      </TextField>
    </Wrap>
  );
}
