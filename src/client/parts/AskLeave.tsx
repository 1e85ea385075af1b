import styled from "styled-components";
import { Button } from "./Button";

const Ask = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  padding: 10px 12px;
  background: var(--lamp-wash);
  border-left: 3px solid var(--lamp);
  font-size: 14px;
  span {
    margin-right: auto;
  }
`;

type Props = {
  words: string;
  onStay: () => void;
  /** Leaves it where it is kept for the next time; nothing where it is not. */
  onLater?: () => void;
  onAway: () => void;
  className?: string;
};

/** Asks in place what is to become of something written that is not saved. Escape goes on writing. */
export const AskLeave = ({ words, onStay, onLater, onAway, className }: Props) => (
  <Ask role="alertdialog" aria-label="Leave this?" className={className} onKeyDown={(e) => e.key === "Escape" && (e.stopPropagation(), onStay())}>
    <span>{words}</span>
    <Button look="main" autoFocus onPress={onStay}>
      Go on writing
    </Button>
    {onLater && <Button onPress={onLater}>Leave it for later</Button>}
    <Button look="bad" onPress={onAway}>
      Throw it away
    </Button>
  </Ask>
);
