import type { ReactNode } from "react";
import styled from "styled-components";
import { small } from "./theme";

const Set = styled.fieldset`
  border: 0;
  padding: 0;
  margin: 0;
  min-width: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 0 16px;
  font-size: 14px;
  legend {
    ${small}
    padding: 0;
  }
`;

const Line = styled.label`
  display: inline-flex;
  gap: 6px;
  align-items: center;
  min-height: 26px;
  font-size: 14px;
  input {
    flex: none;
  }
`;

const Wrong = styled.span`
  color: var(--bad);
`;

type Props = { label: string; options: readonly { key: string; label: string }[]; value: string[]; onChange: (keys: string[]) => void; className?: string; isDisabled?: boolean; error?: string };

/** Any of a short list. */
export function Ticks({ label, options, value, onChange, className, isDisabled, error }: Props) {
  return (
    <Set className={className} disabled={isDisabled}>
      <legend>{label}</legend>
      {options.map((o) => (
        <Tick key={o.key} value={value.includes(o.key)} onChange={(on) => onChange(on ? [...value, o.key] : value.filter((k) => k !== o.key))}>
          {o.label}
        </Tick>
      ))}
      {error && <Wrong role="alert">{error}</Wrong>}
    </Set>
  );
}

type TickProps = { value: boolean; onChange: (value: boolean) => void; error?: string; isDisabled?: boolean; children: ReactNode };

/** Yes or no, with its words beside it. */
export function Tick({ value, onChange, error, isDisabled, children }: TickProps) {
  return (
    <Line>
      <input type="checkbox" checked={value} disabled={isDisabled} onChange={(e) => onChange(e.target.checked)} />
      <span>
        {children} {error && <Wrong role="alert">{error}</Wrong>}
      </span>
    </Line>
  );
}
