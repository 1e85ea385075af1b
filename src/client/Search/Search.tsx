import { useState } from "react";
import styled from "styled-components";
import { later } from "../common/later";
import { searchBox } from "./box";

const Box = later(async () => (await import("./SearchBox")).SearchBox);

const Plain = styled.div`
  ${searchBox}
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
  return <Box {...props} typed={typed} isIn={isIn} before={plain} />;
}
