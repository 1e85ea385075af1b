import type { ReactNode } from "react";
import styled from "styled-components";
import { Button } from "./Button";
import { tell, tellError } from "./Toast";

const Once = styled.div`
  border-left: 3px solid var(--lamp);
  padding: 8px 14px;
  margin-bottom: 24px;
  background: var(--sheet);
  code {
    display: block;
    margin: 6px 0 8px;
    overflow-wrap: anywhere;
    white-space: pre-wrap;
    font: 13px/1.5 "DejaVu Sans Mono", monospace;
  }
`;

/** Something secret that is shown this once, to be copied. */
export function ShownOnce({ secret, children }: { secret: string; children: ReactNode }) {
  return (
    <Once role="status">
      {children}
      <code>{secret}</code>
      <Button onPress={() => navigator.clipboard.writeText(secret).then(() => tell("Copied."), tellError)}>Copy</Button>
    </Once>
  );
}
