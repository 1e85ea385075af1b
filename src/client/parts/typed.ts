import { useState } from "react";
import { useUnread } from "./unread";

/** How a text is read as a value, and how a value is written. */
export type Reading = {
  /** The value; undefined where the text means none. `before` is the value as it was before this text. */
  read: (text: string, past: boolean | undefined, before: string) => string | undefined;
  write: (value: string) => string;
};

type Box = { value: string; onChange: (value: string) => void; /** True where days behind us are meant. */ past?: boolean };

/**
 * What stands in a box for a day, a moment or a time of day, and what it means. Text that means nothing keeps the value at "" and every form on the page waits (see {@link useUnread}),
 * so that it is never left out without a word.
 */
export function useTyped(reading: Reading, { value, onChange, past }: Box) {
  const [text, setText] = useState(value && reading.write(value));
  const [told, setTold] = useState(value);
  if (told !== value) {
    setTold(value);
    setText(value && reading.write(value));
  }
  const isUnread = text.trim() !== "" && !told;
  useUnread(isUnread);
  const tell = (next: string) => {
    setTold(next);
    if (next !== value) onChange(next);
  };
  return {
    text,
    /** The value that stands there; "" while there is none. */
    at: told,
    isUnread,
    type: (typed: string) => {
      setText(typed);
      tell((typed.trim() && reading.read(typed, past, told)) || "");
    },
    settle: () => told && setText(reading.write(told)),
    put: (next: string) => {
      setText(reading.write(next));
      tell(next);
    },
  };
}
