import { useEffect, useState } from "react";
import { TextBox } from "../parts/Field";
import { useReadings, WhichNumber } from "./NumberText";
import { plainNumber, shown as show } from "./numbers";

type Props = { label: string; shown?: string; value: number; least: number; most: number; whole?: boolean; onChange: (value: number) => void };

/** A number that is taken over as soon as it is one within its bounds; what is not stays as written, and says why. `label` names it, `shown` stands above it. */
export function NumberBox(props: Props) {
  return <MaybeNumberBox {...props} onChange={(value) => value !== undefined && props.onChange(value)} needed />;
}

type MaybeProps = Omit<Props, "value" | "onChange"> & { value: number | undefined; needed?: boolean; placeholder?: string; onChange: (value: number | undefined) => void };

const written = (value: number | undefined) => (value === undefined ? "" : String(value));

/** The same where there may be no number at all, which is what an empty box says. */
export function MaybeNumberBox({ label, shown = "", value, least, most, whole, needed, placeholder, onChange }: MaybeProps) {
  const [text, setText] = useState(written(value));
  const [seen, setSeen] = useState(value);
  const fits = (n: number) => n >= least && n <= most && (!whole || Number.isInteger(n));
  const sure = (t: string) => (t.trim() === "" ? undefined : t === written(value) ? value : plainNumber(t));
  const blank = text.trim() === "";
  const isPlain = blank || !Number.isNaN(sure(text) ?? 0);
  const read = useReadings(isPlain ? "" : text);
  // Of two readings the one that fits is meant, where only one does.
  const fitting = (read ?? []).filter(fits);
  const one = isPlain ? sure(text) : fitting.length === 1 ? fitting[0] : undefined;
  // Changed from elsewhere, as by undoing.
  if (seen !== value) {
    setSeen(value);
    if (one !== value) setText(written(value));
  }
  // What the server had to read is taken over when it has.
  const told = isPlain ? undefined : one;
  useEffect(() => {
    if (told !== undefined && told !== value) onChange(told);
    // Once for each text; the callback is another at every drawing.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [told, text]);
  const wrong = blank ? needed : isPlain ? one !== undefined && !fits(one) : read !== undefined && fitting.length === 0;
  return (
    <div>
      <TextBox
        label={shown}
        aria-label={label}
        value={text}
        inputMode="decimal"
        placeholder={placeholder}
        error={wrong ? `${least} to ${most}` : undefined}
        hint={told !== undefined ? `= ${show(told)}` : undefined}
        onChange={(next) => {
          setText(next);
          const number = next.trim() === "" ? undefined : plainNumber(next);
          if (number === undefined ? !needed : fits(number)) onChange(number);
        }}
      />
      <WhichNumber
        text={text}
        read={fitting.length === 2 ? fitting : undefined}
        onChoose={(chosen) => {
          setText(chosen);
          onChange(plainNumber(chosen));
        }}
      />
    </div>
  );
}
