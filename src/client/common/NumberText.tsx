import { useEffect, useState } from "react";
import styled from "styled-components";
import { Button } from "../parts/Button";
import { TextBox } from "../parts/Field";
import { asPlain, plainNumber, readings, shown } from "./numbers";

const Question = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 4px 8px;
  align-items: center;
  margin-top: 3px;
  font-size: 13px;
  color: var(--lamp-ink);
`;

type Props = Omit<Parameters<typeof TextBox>[0], "value" | "onChange" | "lines" | "inputMode"> & { value: string; onChange: (text: string) => void };

/** A box for a number. It shows what was understood, asks where two readings are possible, and writes the number plainly when one leaves it. */
export function NumberText({ value, onChange, hint, error, ...props }: Props) {
  const read = useReadings(value);
  const understood = read?.length === 1 && Number.isNaN(plainNumber(value)) ? `= ${shown(read[0]!)}` : undefined;
  return (
    <div>
      <TextBox
        {...props}
        value={value}
        onChange={onChange}
        inputMode="decimal"
        hint={understood ?? hint}
        error={error ?? (read?.length === 0 ? "This is not a number." : read?.length === 2 ? "This can be read in two ways." : undefined)}
        onBlur={() => read?.length === 1 && understood && onChange(asPlain(read[0]!))}
      />
      <WhichNumber text={value} read={read} onChoose={onChange} />
    </div>
  );
}

/** The question which of two readings is meant; nothing where there is no question. */
export function WhichNumber({ text, read, onChoose }: { text: string; read: number[] | undefined; onChoose: (text: string) => void }) {
  if (read?.length !== 2) return null;
  return (
    <Question role="group" aria-label={`Which number is ${text.trim()}?`}>
      Which is meant?
      {read.map((n) => (
        <Button key={n} onPress={() => onChoose(asPlain(n))}>
          {shown(n)}
        </Button>
      ))}
    </Question>
  );
}

/** What a text can mean; undefined while it is blank or being asked. */
export function useReadings(text: string): number[] | undefined {
  const [read, setRead] = useState<{ text: string; numbers: number[] }>();
  const clean = text.trim();
  const sure = plainNumber(clean);
  const ask = clean !== "" && Number.isNaN(sure);
  useEffect(() => {
    if (!ask) return;
    let here = true;
    // What cannot be asked now is asked when it is sent.
    readings(clean).then((numbers) => here && setRead({ text: clean, numbers }), () => undefined);
    return () => void (here = false);
  }, [clean, ask]);
  if (clean === "") return undefined;
  if (!ask) return [sure];
  return read?.text === clean ? read.numbers : undefined;
}
