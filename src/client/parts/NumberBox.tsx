import { useState } from "react";
import { TextBox } from "./Field";
import { readNumber } from "./format";

type Props = { label: string; shown?: string; value: number; least: number; most: number; whole?: boolean; onChange: (value: number) => void };

/** A number that is taken over as soon as it is one within its bounds; what is not stays as written, and says why. `label` names it, `shown` stands above it. */
export function NumberBox(props: Props) {
  return <MaybeNumberBox {...props} onChange={(value) => value !== undefined && props.onChange(value)} needed />;
}

type MaybeProps = Omit<Props, "value" | "onChange"> & { value: number | undefined; needed?: boolean; placeholder?: string; onChange: (value: number | undefined) => void };

/** The same where there may be no number at all, which is what an empty box says. */
export function MaybeNumberBox({ label, shown = "", value, least, most, whole, needed, placeholder, onChange }: MaybeProps) {
  const [text, setText] = useState(value === undefined ? "" : String(value));
  const read = (written: string) => {
    const number = readNumber(written);
    if (written.trim() === "") return needed ? null : undefined;
    return !Number.isNaN(number) && number >= least && number <= most && (!whole || Number.isInteger(number)) ? number : null;
  };
  const [seen, setSeen] = useState(value);
  // Changed from elsewhere, as by undoing.
  if (seen !== value) {
    setSeen(value);
    if (read(text) !== value) setText(value === undefined ? "" : String(value));
  }
  return (
    <TextBox
      label={shown}
      aria-label={label}
      value={text}
      inputMode="decimal"
      placeholder={placeholder}
      error={read(text) === null ? `${least} to ${most}` : undefined}
      onChange={(next) => {
        setText(next);
        const number = read(next);
        if (number !== null) onChange(number);
      }}
    />
  );
}
