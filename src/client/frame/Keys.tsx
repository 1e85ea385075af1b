import styled from "styled-components";
import { Overlay } from "../parts/Dialog";

const keys: [string, string][] = [
  ["1 to 8", "the stops of the line"],
  ["/ or Ctrl K", "search, and commands"],
  ["n", "new lead"],
  ["l", "the list, or what is worked on"],
  ["w", "write: where the next entry goes"],
  ["arrows, Enter", "move in a list, open"],
  ["Esc", "back, close"],
  ["Ctrl Z", "undo what was done last"],
  ["?", "this list"],
];

const List = styled.dl`
  margin: 0;
  div {
    display: grid;
    grid-template-columns: 130px 1fr;
    gap: 16px;
    padding: 4px 0;
  }
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
          <div key={key}>
            <dt>{key}</dt>
            <dd>{does}</dd>
          </div>
        ))}
      </List>
    </Overlay>
  );
}
