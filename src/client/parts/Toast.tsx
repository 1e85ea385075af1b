import { UNSTABLE_Toast as AriaToast, UNSTABLE_ToastContent as Content, UNSTABLE_ToastQueue as Queue, UNSTABLE_ToastRegion as Region, Text } from "react-aria-components";
import styled from "styled-components";
import { Button } from "./Button";

type Way = { label: string; go: () => void };
type Undo = () => Promise<unknown>;
type Note = { text: string; undo?: Undo; later?: boolean; bad?: boolean; way?: Way };

const queue = new Queue<Note>({ maxVisibleToasts: 3 });

// A note waits while somebody points at it or is in it; longer than this it says what may be true no more.
const longest = 60_000;

let said = 0;
const troubles = new Map<string, string>();

function add(note: Note, timeout?: number) {
  said++;
  const key = queue.add(note, { timeout });
  if (timeout) setTimeout(() => queue.close(key), longest);
  return key;
}

/** Says what was done, with the way back where there is one. Ctrl+Z takes the newest. What went wrong before is past. An undo that goes on `later` says itself how it ended. */
export function tell(text: string, undo?: Undo, later = false) {
  forgetErrors();
  const note = { text, undo, later };
  const key = add(note, undo ? 12_000 : 6_000);
  pending = undo && { key, note };
}

/** Says what happened elsewhere, with the way there. It takes no undo away. */
export const tellOf = (text: string, way?: Way) => void add({ text, way }, 12_000);

/** Says what went wrong; it stays until it is closed, the next act does not go wrong, or another page is opened. */
export function tellError(error: unknown) {
  const text = error instanceof Error ? error.message : "Something went wrong; nothing was changed.";
  said++;
  const shown = troubles.get(text);
  if (!shown || !queue.visibleToasts.some((t) => t.key === shown)) troubles.set(text, add({ text, bad: true }));
}

/** What went wrong is past. */
export function forgetErrors() {
  troubles.forEach((key) => queue.close(key));
  troubles.clear();
}

let pending: { key: string; note: Note } | undefined;

/** Takes back what was told last; false when there is nothing. */
export function undoLast() {
  if (!pending) return false;
  void takeBack(pending.key, pending.note);
  return true;
}

// Says that it is undone, unless the undo has its own words.
async function takeBack(key: string, { text, undo, later }: Note) {
  queue.close(key);
  if (pending?.key === key) pending = undefined;
  const before = said;
  try {
    await undo?.();
    if (said === before && !later) tell(`Undone: \u201c${text.replace(/\.$/, "")}\u201d.`);
  } catch (e) {
    if (said === before) tellError(e);
  }
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
              onPress={() => void takeBack(toast.key, toast.content)}
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
