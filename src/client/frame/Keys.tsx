import styled from "styled-components";
import { Overlay } from "../parts/Dialog";

const keys: [string, string][] = [
  ["1 to 8", "the stops of the line"],
  ["/ or Ctrl K", "search, and commands"],
  ["n", "new lead"],
  ["arrows, Enter", "move in a list, open"],
  ["Esc", "back, close"],
  ["Ctrl Z", "undo what was done last"],
  ["?", "this list"],
];

const List = styled.dl`
  display: grid;
  grid-template-columns: 130px 1fr;
  gap: 8px 16px;
  margin: 0;
  dt {
    font-weight: 620;
  }
  dd {
    margin: 0;
  }
`;

export function Keys(props: { isOpen: boolean; onClose: () => void }) {
  return (
    <Overlay title="Keys" width={420} {...props}>
      <List>
        {keys.map(([key, does]) => (
          <div key={key} style={{ display: "contents" }}>
            <dt>{key}</dt>
            <dd>{does}</dd>
          </div>
        ))}
      </List>
    </Overlay>
  );
}
