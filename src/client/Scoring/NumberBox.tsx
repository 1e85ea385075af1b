import { useState } from "react";
import { TextBox } from "../parts/Field";
import { readNumber } from "../parts/format";

type Props = { label: string; shown?: string; value: number; least: number; most: number; whole?: boolean; onChange: (value: number) => void };

/** A number that is taken over as soon as it is one within its bounds; what is not stays as written, and says why. `label` names it, `shown` stands above it. */
export function NumberBox({ label, shown = "", value, least, most, whole, onChange }: Props) {
  const [text, setText] = useState(String(value));
  const read = readNumber(text);
  const fits = text.trim() !== "" && !Number.isNaN(read) && read >= least && read <= most && (!whole || Number.isInteger(read));
  const [seen, setSeen] = useState(value);
  // Changed from elsewhere, as by undoing.
  if (seen !== value) {
    setSeen(value);
    if (read !== value) setText(String(value));
  }
  return (
    <TextBox
      label={shown}
      aria-label={label}
      value={text}
      inputMode="decimal"
      error={fits ? undefined : `${least} to ${most}`}
      onChange={(next) => {
        setText(next);
        const number = readNumber(next);
        if (next.trim() !== "" && !Number.isNaN(number) && number >= least && number <= most && (!whole || Number.isInteger(number))) onChange(number);
      }}
    />
  );
}
