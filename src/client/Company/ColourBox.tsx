import styled from "styled-components";
import { TextBox } from "../parts/Field";

const Beside = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 8px;
  align-items: start;
  input[type="color"] {
    width: 44px;
    height: 36px;
    margin-top: 22px;
    padding: 2px;
    border: 1px solid var(--mark);
    border-radius: 3px;
    background: var(--sheet);
    cursor: pointer;
  }
`;

// What the box of the browser shows while no colour is written.
const plain = `#${"0".repeat(6)}`;

type Props = { value: string; onChange: (colour: string) => void; error?: string };

/** A colour by its six digits, or picked. */
export function ColourBox({ value, onChange, error }: Props) {
  return (
    <Beside>
      <TextBox label="Colour of your forms" value={value} onChange={onChange} error={error} hint="of buttons and links" maxLength={7} />
      <input type="color" aria-label="Pick the colour" value={/^#[0-9a-f]{6}$/i.test(value) ? value.toLowerCase() : plain} onChange={(e) => onChange(e.target.value.toUpperCase())} />
    </Beside>
  );
}
