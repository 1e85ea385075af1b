import type { ReactNode } from "react";
import {
  Button,
  FieldError,
  Input,
  Label,
  ListBox,
  ListBoxItem,
  Popover,
  Select as AriaSelect,
  SelectValue,
  Text,
  TextArea,
  TextField,
  type TextFieldProps,
} from "react-aria-components";
import styled, { css } from "styled-components";

export const box = css`
  width: 100%;
  min-height: 34px;
  padding: 5px 10px;
  border: 1px solid var(--mark);
  border-radius: 3px;
  background: var(--sheet);
  &[data-focused] {
    border-color: var(--slate);
    outline: 1px solid var(--slate);
  }
  &[data-invalid] {
    border-color: var(--bad);
  }
  &[data-disabled] {
    border-color: var(--hair);
    background: none;
    color: var(--soft);
  }
`;

export const Wrap = styled.div`
  min-width: 0;
  & > .react-aria-TextField,
  & > .react-aria-DatePicker,
  & > .react-aria-Select {
    display: flex;
    flex-direction: column;
    gap: 3px;
    min-width: 0;
  }
  label,
  .react-aria-Label {
    font-size: 13px;
    color: var(--soft);
  }
  input,
  textarea {
    ${box}
  }
  textarea {
    resize: vertical;
    min-height: 68px;
  }
  .react-aria-FieldError {
    color: var(--bad);
    font-size: 13px;
  }
  .hint {
    font-size: 13px;
    color: var(--soft);
  }
`;

type TextProps = TextFieldProps & { label: string; hint?: string; error?: string; lines?: boolean | number; placeholder?: string };

/** One line of text, or several with `lines`, as many as it says. The error stands next to it and is read with it. */
export function TextBox({ label, hint, error, lines, placeholder, ...props }: TextProps) {
  return (
    <Wrap>
      {/* "aria": the server says what is wrong, and that must not keep the corrected value from being sent. */}
      <TextField {...props} isInvalid={!!error} validationBehavior="aria">
        {label && <Label>{label}</Label>}
        {lines ? <TextArea placeholder={placeholder} rows={lines === true ? undefined : lines} /> : <Input placeholder={placeholder} />}
        {hint && (
          <Text slot="description" className="hint">
            {hint}
          </Text>
        )}
        <FieldError>{error}</FieldError>
      </TextField>
    </Wrap>
  );
}

export const Menu = styled(ListBox)`
  max-height: 320px;
  overflow: auto;
  padding: 4px;
  outline: none;
` as typeof ListBox;

export const MenuItem = styled(ListBoxItem)`
  padding: 6px 10px;
  border-radius: 3px;
  cursor: pointer;
  font-size: 14px;
  outline: none;
  &[data-focused] {
    background: var(--slate-wash);
  }
  &[data-selected] {
    font-weight: 650;
  }
  &[data-selected]::after {
    content: " ✓";
    color: var(--slate);
  }
` as typeof ListBoxItem;

export const Float = styled(Popover)`
  background: var(--sheet);
  border: 1px solid var(--hair);
  border-radius: 3px;
  box-shadow: var(--float);
  min-width: var(--trigger-width);
  max-width: 360px;
  outline: none;
`;

const Trigger = styled(Button)`
  ${box}
  display: flex;
  justify-content: space-between;
  gap: 8px;
  text-align: left;
  cursor: pointer;
  &::after {
    content: "";
    align-self: center;
    border: 4px solid transparent;
    border-top-color: var(--soft);
    margin-top: 4px;
  }
  span {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
`;

type ChoiceProps = { label: string; value: string | null; options: { key: string; label: string }[]; onChange: (key: string) => void; error?: string; hideLabel?: boolean; isDisabled?: boolean; placeholder?: string; /** What it is called where the label beside it says less. */ name?: string; autoFocus?: boolean };

/** One of a list. */
export function ChoiceBox({ label, value, options, onChange, error, hideLabel, isDisabled, placeholder = "choose", name, autoFocus }: ChoiceProps): ReactNode {
  return (
    <Wrap>
      <AriaSelect aria-label={name ?? (hideLabel ? label : undefined)} selectedKey={value} onSelectionChange={(k) => onChange(String(k))} isInvalid={!!error} validationBehavior="aria" isDisabled={isDisabled} placeholder={placeholder} autoFocus={autoFocus}>
        {!hideLabel && <Label>{label}</Label>}
        <Trigger>
          <SelectValue />
        </Trigger>
        <FieldError>{error}</FieldError>
        <Float>
          <Menu items={options.map((o) => ({ id: o.key, label: o.label }))}>{(o) => <MenuItem>{o.label}</MenuItem>}</Menu>
        </Float>
      </AriaSelect>
    </Wrap>
  );
}
