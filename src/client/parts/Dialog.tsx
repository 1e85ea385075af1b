import { useContext, useState, type ReactNode } from "react";
import { Dialog, Heading, Modal, ModalOverlay, OverlayTriggerStateContext } from "react-aria-components";
import styled from "styled-components";
import { AskLeave } from "./AskLeave";

const Veil = styled(ModalOverlay)`
  position: fixed;
  inset: 0;
  background: color-mix(in srgb, var(--ink) 34%, transparent);
  display: grid;
  place-items: center;
  padding: 20px;
  z-index: 40;
  @media (max-width: 480px) {
    padding: 8px;
  }
`;

const Sheet = styled(Modal)<{ $width: number }>`
  width: min(${(p) => p.$width}px, 100%);
  max-height: 92vh;
  overflow: auto;
  background: var(--sheet);
  border: 1px solid var(--hair);
  border-radius: 3px;
  box-shadow: var(--float);
  padding: 20px 24px 22px;
  section {
    outline: none;
  }
  h2 {
    margin-bottom: 14px;
  }
  @media (max-width: 480px) {
    padding: 16px 14px 18px;
  }
`;

const Asking = styled(AskLeave)`
  position: sticky;
  bottom: -22px;
  gap: 10px;
  margin: 16px -24px -22px;
  padding: 12px 24px;
  border-left: 0;
  border-top: 1px solid var(--lamp);
`;

/** Something typed in a dialog that is not saved: kept for the next time when it is left, or thrown away by word. */
export type Unsaved = { isChanged: boolean; forget: () => void };

type Props = { title: string; isOpen: boolean; onClose: () => void; width?: number; children: ReactNode; unsaved?: Unsaved | true };

/** Leaves the dialog around it, which asks first where something in it is unsaved; undefined outside of one. */
export function useLeaveDialog() {
  const state = useContext(OverlayTriggerStateContext);
  return state ? () => state.close() : undefined;
}

/** Only for what must interrupt. Escape closes it and nothing is done; with something `unsaved` in it it asks first, and a press beside it does nothing. With `true` it cannot be left. */
export function Overlay({ title, isOpen, onClose, width = 560, children, unsaved }: Props) {
  const [asking, setAsking] = useState(false);
  const stays = unsaved === true || !!unsaved?.isChanged;
  const leave = () => {
    setAsking(false);
    onClose();
  };
  const away = () => {
    if (unsaved && unsaved !== true) unsaved.forget();
    leave();
  };
  return (
    <Veil isOpen={isOpen} onOpenChange={(o) => !o && (stays ? unsaved !== true && setAsking(true) : onClose())} isDismissable={!stays}>
      <Sheet $width={width}>
        <Dialog>
          <Heading slot="title" level={2}>
            {title}
          </Heading>
          {children}
          {asking && stays && <Asking words="What you wrote is kept here for the next time." onStay={() => setAsking(false)} onLater={leave} onAway={away} />}
        </Dialog>
      </Sheet>
    </Veil>
  );
}
