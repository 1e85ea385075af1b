import styled from "styled-components";
import type { Schema } from "../../api/client";
import { Cap } from "../../parts/Bench";
import { Button } from "../../parts/Button";
import { tell, tellError } from "../../parts/Toast";

const Address = styled.a`
  overflow-wrap: anywhere;
  font-size: 14px;
`;

const Code = styled.textarea`
  width: 100%;
  min-height: 92px;
  font: 12px/1.4 "DejaVu Sans Mono", monospace;
  border: 1px solid var(--hair);
  border-radius: 3px;
  background: var(--sheet);
  padding: 8px;
`;

/** Where a form stands: its own page, and the snippets for other pages. */
export function FormPlaces({ form }: { form: Schema["FormView"] }) {
  const copy = (text: string) => navigator.clipboard.writeText(text).then(() => tell("Copied."), tellError);
  const snippets: [string, string][] = [
    ["In another page, without script", form.snippet],
    ["In a frame of another page", form.inset],
  ];
  return (
    <>
      <h2>Where it stands</h2>
      <Address href={`/f/${form.key}`} target="_blank" rel="noreferrer">
        {form.page}
      </Address>
      {snippets.map(([label, html]) => (
        <details key={label}>
          <summary>{label}</summary>
          <Code readOnly aria-label={label} value={html} />
          <Button onPress={() => copy(html)}>Copy</Button>
        </details>
      ))}
      <Cap>The same address takes one JSON object by POST, with the same names.</Cap>
    </>
  );
}
