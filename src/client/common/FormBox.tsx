import { useState, type FormEvent, type KeyboardEvent, type ReactNode } from "react";
import styled from "styled-components";
import { AskLeave } from "../parts/AskLeave";
import { Button } from "../parts/Button";
import { useLeaveDialog } from "../parts/Dialog";
import { moment } from "../parts/format";
import { Row } from "../parts/Layout";
import { useAnyUnread } from "../parts/unread";
import { Hint, Wrong } from "../parts/Words";
import type { FormState } from "./form";
import { useSession } from "./session";

const Box = styled.form`
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 12px;
`;

type Props = {
  form: FormState;
  /** What the button that sends it says. */
  words: string;
  /** Sends it; see `send` of the form. */
  onSend: () => unknown;
  /** Closes it. Without this it is left with the dialog around it, or stays open. */
  onLeave?: () => void;
  /** False while something needed is missing. */
  isReady?: boolean;
  /** Why it cannot be sent at all. */
  why?: string;
  leaveWords?: string;
  look?: "main" | "plain" | "bad";
  label?: string;
  /** Buttons beside the one that sends it. */
  beside?: ReactNode;
  children: ReactNode;
  /** The button to the right, as where lines of a story are written. */
  atEnd?: boolean;
  /** Ctrl+Enter sends it from a box of several lines too. */
  className?: string;
};

/** A form as every form is: Enter sends, Ctrl+Enter from anywhere in it, Esc leaves, and asks first where something would be left behind. */
export function FormBox({ form, words, onSend, onLeave, isReady = true, why, leaveWords = "Leave it", look = "main", label, beside, children, atEnd, className }: Props) {
  const [asking, setAsking] = useState(false);
  const isUnread = useAnyUnread();
  const may = isReady && !why && !isUnread && !form.busy;
  // A dialog around it asks by itself.
  const leaveDialog = useLeaveDialog();
  const leave = onLeave ? () => (form.isChanged ? setAsking(true) : onLeave()) : leaveDialog;
  const away = () => {
    setAsking(false);
    onLeave?.();
  };
  const send = (e: FormEvent | KeyboardEvent) => {
    e.preventDefault();
    // A form may stand in a list or dialog that would take the key.
    e.stopPropagation();
    if (may) onSend();
  };
  const key = (e: KeyboardEvent) => {
    if (e.key === "Enter" && (e.ctrlKey || e.metaKey)) send(e);
    else if (e.key === "Escape" && onLeave && !e.defaultPrevented) {
      e.preventDefault();
      e.stopPropagation();
      leave!();
    }
  };
  return (
    <Box noValidate aria-label={label} onSubmit={send} onKeyDown={key} className={className}>
      {form.since && form.isChanged && <Restored form={form} since={form.since} />}
      {children}
      {asking ? (
        <AskLeave
          words={form.isKept ? "What you wrote is not saved. It can wait here for you." : "What you wrote is not saved."}
          onStay={() => setAsking(false)}
          onLater={form.isKept ? away : undefined}
          onAway={() => (form.forget(), away())}
        />
      ) : (
        <Row $end={atEnd} $gap={3}>
          {(why ?? form.whole) && <Wrong>{why ?? form.whole}</Wrong>}
          {atEnd && beside}
          {atEnd && leave && <LeaveButton words={leaveWords} onPress={leave} />}
          <Button look={look} type="submit" isPending={form.busy} isDisabled={!may && !form.busy}>
            {words}
          </Button>
          {!atEnd && beside}
          {!atEnd && leave && <LeaveButton words={leaveWords} onPress={leave} />}
        </Row>
      )}
    </Box>
  );
}

const LeaveButton = ({ words, onPress }: { words: string; onPress: () => void }) => (
  <Button look="quiet" onPress={onPress}>
    {words}
  </Button>
);

/** Says that what stands in the form was typed before. */
function Restored({ form, since }: { form: FormState; since: number }) {
  const { timeZone } = useSession();
  return (
    <Hint role="status">
      From {moment(new Date(since).toISOString(), timeZone)}, not saved then.{" "}
      <Button look="inline" onPress={form.forget}>
        Throw it away
      </Button>
    </Hint>
  );
}
