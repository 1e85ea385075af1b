import { UNSTABLE_Toast as AriaToast, UNSTABLE_ToastContent as Content, UNSTABLE_ToastQueue as Queue, UNSTABLE_ToastRegion as Region, Text } from "react-aria-components";
import styled from "styled-components";
import { Button } from "./Button";

type Way = { label: string; go: () => void };
type Note = { text: string; undo?: () => void; bad?: boolean; way?: Way };

const queue = new Queue<Note>({ maxVisibleToasts: 3 });

/** Says what was done, with the way back where there is one. Ctrl+Z takes the newest. */
export const tell = (text: string, undo?: () => void) => void (lastUndo(undo), queue.add({ text, undo }, { timeout: undo ? 12_000 : 6_000 }));

/** Says what happened elsewhere, with the way there. It takes no undo away. */
export const tellOf = (text: string, way?: Way) => void queue.add({ text, way }, { timeout: 12_000 });

/** Says what went wrong and stays until it is closed. */
export const tellTrouble = (error: unknown) => void queue.add({ text: error instanceof Error ? error.message : "Something went wrong; nothing was changed.", bad: true });

let pending: (() => void) | undefined;

const lastUndo = (undo?: () => void) => void (pending = undo);

/** Takes back what was told last; false when there is nothing. */
export function undoLast() {
  const undo = pending;
  pending = undefined;
  undo?.();
  return !!undo;
}

const Corner = styled(Region)`
  position: fixed;
  left: 20px;
  bottom: 20px;
  display: flex;
  flex-direction: column;
  gap: 8px;
  z-index: 50;
  outline: none;
` as typeof Region;

const Slip = styled(AriaToast)<{ $bad?: boolean }>`
  display: flex;
  align-items: center;
  gap: 14px;
  max-width: 560px;
  padding: 8px 10px 8px 14px;
  background: var(--sheet);
  border: 1px solid ${(p) => (p.$bad ? "var(--bad)" : "var(--mark)")};
  border-left-width: 4px;
  border-radius: 3px;
  box-shadow: var(--float);
  font-size: 14px;
`;

export function Toasts() {
  return (
    <Corner queue={queue} aria-label="What was done">
      {({ toast }) => (
        <Slip toast={toast} $bad={toast.content.bad}>
          <Content>
            <Text slot="title">{toast.content.text}</Text>
          </Content>
          {toast.content.way && (
            <Button
              look="quiet"
              onPress={() => {
                queue.close(toast.key);
                toast.content.way!.go();
              }}
            >
              {toast.content.way.label}
            </Button>
          )}
          {toast.content.undo && (
            <Button
              look="quiet"
              onPress={() => {
                queue.close(toast.key);
                undoLast();
              }}
            >
              Undo
            </Button>
          )}
          <Button look="quiet" slot="close" aria-label="Close">
            ×
          </Button>
        </Slip>
      )}
    </Corner>
  );
}
