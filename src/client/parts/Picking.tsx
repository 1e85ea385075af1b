import { useState } from "react";
import styled from "styled-components";
import { TextBox } from "./Field";
import { Ticks } from "./Ticks";

const List = styled.div`
  max-height: 220px;
  overflow: auto;
  fieldset {
    flex-direction: column;
    gap: 5px;
  }
`;

const few = 12;

type Props = { label: string; options: { key: string; label: string }[]; value: string[]; onChange: (keys: string[]) => void; error?: string };

/** Any of a list of whatever length: what is chosen first, the rest narrowed by typing. */
export function Picking({ label, options, value, onChange, error }: Props) {
  const [sought, setSought] = useState("");
  // What was chosen when it opened stands first, and stays there while one chooses.
  const [first] = useState(value);
  const fits = (o: { label: string }) => o.label.toLowerCase().includes(sought.trim().toLowerCase());
  const ordered = [...options.filter((o) => first.includes(o.key)), ...options.filter((o) => !first.includes(o.key))];
  return (
    <>
      {options.length > few && <TextBox label={`Find in ${label.toLowerCase()}`} value={sought} onChange={setSought} />}
      <List>
        <Ticks label={label} options={ordered.filter((o) => fits(o) || value.includes(o.key))} value={value} onChange={onChange} error={error} />
      </List>
    </>
  );
}
