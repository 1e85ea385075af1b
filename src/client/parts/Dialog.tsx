import type { ReactNode } from "react";
import { Dialog, Heading, Modal, ModalOverlay } from "react-aria-components";
import styled from "styled-components";

const Veil = styled(ModalOverlay)`
  position: fixed;
  inset: 0;
  background: color-mix(in srgb, var(--ink) 34%, transparent);
  display: grid;
  place-items: center;
  padding: 20px;
  z-index: 40;
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
`;

type Props = { title: string; isOpen: boolean; onClose: () => void; width?: number; children: ReactNode };

/** Only for what must interrupt. Escape closes it and nothing is done. */
export function Overlay({ title, isOpen, onClose, width = 560, children }: Props) {
  return (
    <Veil isOpen={isOpen} onOpenChange={(o) => !o && onClose()} isDismissable>
      <Sheet $width={width}>
        <Dialog>
          <Heading slot="title" level={2}>
            {title}
          </Heading>
          {children}
        </Dialog>
      </Sheet>
    </Veil>
  );
}
