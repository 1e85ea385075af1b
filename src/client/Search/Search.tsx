import { lazy, Suspense, useState } from "react";
import styled from "styled-components";
import { small } from "../parts/theme";

const Box = lazy(async () => ({ default: (await import("./SearchBox")).SearchBox }));

const Plain = styled.div`
  display: flex;
  align-items: center;
  border-bottom: 1px solid var(--mark);
  width: 128px;
  input {
    width: 100%;
    border: 0;
    background: none;
    padding: 4px 2px;
    font-size: 14px;
  }
  kbd {
    ${small}
    font: inherit;
    font-size: 12px;
    border: 1px solid var(--hair);
    border-radius: 3px;
    padding: 0 5px;
  }
`;

/** The box for everything. Until its list is loaded a plain one stands in its place; what is typed into that goes over. */
export function Search(props: { onNew: () => void; onKeys: () => void }) {
  const [typed, setTyped] = useState("");
  const [isIn, setIn] = useState(false);
  const plain = (
    <Plain>
      <input id="find" aria-label="Search" placeholder="Search" autoComplete="off" value={typed} onChange={(e) => setTyped(e.target.value)} onFocus={() => setIn(true)} onBlur={() => setIn(false)} />
      <kbd aria-hidden>/</kbd>
    </Plain>
  );
  return (
    <Suspense fallback={plain}>
      <Box {...props} typed={typed} isIn={isIn} />
    </Suspense>
  );
}
