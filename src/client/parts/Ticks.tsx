import styled from "styled-components";
import { small } from "./theme";

const Set = styled.fieldset`
  border: 0;
  padding: 0;
  margin: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  font-size: 14px;
  legend {
    ${small}
    margin-bottom: 4px;
    padding: 0;
  }
  label {
    display: inline-flex;
    gap: 6px;
    align-items: center;
  }
`;

type Props = { label: string; options: { key: string; label: string }[]; value: string[]; onChange: (keys: string[]) => void; className?: string; isDisabled?: boolean; error?: string };

/** Any of a short list. */
export function Ticks({ label, options, value, onChange, className, isDisabled, error }: Props) {
  return (
    <Set className={className} disabled={isDisabled}>
      <legend>{label}</legend>
      {options.map((o) => (
        <label key={o.key}>
          <input type="checkbox" checked={value.includes(o.key)} onChange={(e) => onChange(e.target.checked ? [...value, o.key] : value.filter((k) => k !== o.key))} />
          {o.label}
        </label>
      ))}
      {error && <span style={{ color: "var(--bad)" }}>{error}</span>}
    </Set>
  );
}
