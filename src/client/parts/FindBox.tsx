import { useState } from "react";
import { ComboBox, FieldError, Input, Label, Text, type Key } from "react-aria-components";
import styled from "styled-components";
import { Float, Menu, MenuItem, Wrap } from "./Field";
import { useOpenList } from "./openList";
import { small } from "./theme";
import { useUnread } from "./unread";

const Box = styled(ComboBox)`
  display: flex;
  flex-direction: column;
  gap: 3px;
  min-width: 0;
` as typeof ComboBox;

const Line = styled.span`
  display: block;
  small {
    ${small}
    display: block;
  }
`;

/** Where an option would stand: none can be drawn outside the list of options. */
const Nothing = styled.p`
  ${small}
  margin: 0;
  padding: 7px 12px;
`;

export type Found = { key: string; label: string; line?: string | null };

type Props = {
  label: string;
  /** What is chosen; null while nothing is. */
  value: Found | null;
  onChange: (value: Found | null) => void;
  /** What fits what is typed, best first. */
  found: Found[];
  /** Called with what is typed; the caller finds for it. */
  onSeek: (text: string) => void;
  /** True while `found` is for an earlier text. */
  isSeeking?: boolean;
  hint?: string;
  error?: string;
  placeholder?: string;
  hideLabel?: boolean;
  autoFocus?: boolean;
  isDisabled?: boolean;
  none?: string;
};

/** What stands in the box, and what is chosen by it: a text that is typed on after a choice is no choice any more. */
function useTypedChoice({ value, onChange, found, onSeek }: Props, isIn: boolean) {
  const [text, setText] = useState(value?.label ?? "");
  const [told, setTold] = useState(value?.key);
  if (told !== value?.key) {
    setTold(value?.key);
    if (value) setText(value.label);
    else if (!isIn) setText("");
  }
  const isUnread = text.trim() !== "" && !value;
  useUnread(isUnread);
  return {
    text,
    isUnread,
    type: (typed: string) => {
      setText(typed);
      onSeek(typed === value?.label ? "" : typed);
      if (value && typed !== value.label) {
        setTold(undefined);
        onChange(null);
      }
    },
    choose: (key: Key | null) => {
      const chosen = found.find((f) => f.key === key);
      if (!chosen) return;
      setTold(chosen.key);
      setText(chosen.label);
      onChange(chosen);
    },
  };
}

/** One of many, found by typing. A text that is nothing that was found is no choice, and says so when one leaves it. */
export function FindBox(props: Props) {
  const { label, value, found, isSeeking, hint, error, placeholder = "type to find", hideLabel, autoFocus, isDisabled, none = "Nothing by these words." } = props;
  const [isIn, setIn] = useState(false);
  const [input, opened] = useOpenList<HTMLInputElement>();
  const { text, isUnread, type, choose } = useTypedChoice(props, isIn);
  const wrong = error ?? (isUnread && !isIn ? "Choose one of those that are found, or empty the box." : undefined);
  return (
    <Wrap>
      <Box
        aria-label={hideLabel ? label : undefined}
        items={found.slice(0, 50)}
        inputValue={text}
        onInputChange={type}
        selectedKey={value?.key ?? null}
        onSelectionChange={choose}
        onFocusChange={setIn}
        isInvalid={!!wrong}
        isDisabled={isDisabled}
        validationBehavior="aria"
        defaultFilter={() => true}
        allowsEmptyCollection
        allowsCustomValue
        menuTrigger="focus"
        onOpenChange={opened}
      >
        {!hideLabel && <Label>{label}</Label>}
        <Input ref={input} placeholder={placeholder} autoComplete="off" autoFocus={autoFocus} />
        {hint && (
          <Text slot="description" className="hint">
            {hint}
          </Text>
        )}
        <FieldError>{wrong}</FieldError>
        <Float>
          <section aria-label={`Found for ${label}`}>
            <Menu<Found> renderEmptyState={() => <Nothing>{isSeeking ? "looking …" : text.trim() ? none : placeholder}</Nothing>}>
              {(f) => (
                <MenuItem id={f.key} textValue={f.label}>
                  <Line>
                    {f.label}
                    {f.line && <small>{f.line}</small>}
                  </Line>
                </MenuItem>
              )}
            </Menu>
          </section>
        </Float>
      </Box>
    </Wrap>
  );
}
