import styled from "styled-components";
import { Button } from "../parts/Button";
import { Overlay } from "../parts/Dialog";
import type { Fact } from "../parts/FactEditor";
import { Row } from "../parts/Layout";
import { small } from "../parts/theme";

const Sides = styled.div`
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px 20px;
  margin: 12px 0 16px;
  & > div {
    border-top: 2px solid var(--mark);
    padding-top: 8px;
    overflow-wrap: anywhere;
  }
  small {
    ${small}
    display: block;
  }
`;

type Props = { mine: string; theirs: Fact; onKeep: () => void; onPut: () => void };

/** Two people wrote the same fact at once: both values side by side, and neither is lost. */
export function Meanwhile({ mine, theirs, onKeep, onPut }: Props) {
  return (
    <Overlay title={`${theirs.label} was changed meanwhile`} isOpen onClose={onKeep} width={520}>
      <p>While you wrote, somebody else did. Nothing of yours is written yet.</p>
      <Sides>
        <div>
          <small>Theirs{theirs.from ? `, ${theirs.from}` : ""}</small>
          {theirs.value ?? "blank"}
        </div>
        <div>
          <small>Yours</small>
          {mine || "blank"}
        </div>
      </Sides>
      <Row $gap={3}>
        <Button look="main" onPress={onKeep} autoFocus>
          Keep theirs
        </Button>
        <Button onPress={onPut}>Put yours</Button>
      </Row>
    </Overlay>
  );
}
