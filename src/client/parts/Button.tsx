import { Button as AriaButton, type ButtonProps } from "react-aria-components";
import type { Ref } from "react";
import styled, { css } from "styled-components";

type Look = "main" | "plain" | "quiet" | "inline" | "bad";

const looks = {
  main: css`
    background: var(--ink);
    color: var(--paper);
    border-color: var(--ink);
    &[data-hovered] {
      background: color-mix(in srgb, var(--ink) 88%, var(--lamp));
    }
  `,
  plain: css`
    background: var(--sheet);
    border-color: var(--mark);
    &[data-hovered] {
      border-color: var(--ink);
    }
  `,
  quiet: css`
    background: none;
    color: var(--slate);
    padding-inline: 4px;
    min-width: 28px;
    &[data-hovered] {
      text-decoration: underline;
      text-underline-offset: 3px;
    }
  `,
  inline: css`
    display: inline;
    min-height: 24px;
    padding: 0;
    background: none;
    color: var(--slate);
    font-size: inherit;
    font-weight: 450;
    text-decoration: underline;
    text-decoration-thickness: 1px;
    text-underline-offset: 3px;
    white-space: normal;
    text-align: start;
  `,
  bad: css`
    background: none;
    color: var(--bad);
    border-color: var(--bad);
    &[data-hovered] {
      background: var(--bad-wash);
    }
  `,
};

const Styled = styled(AriaButton)<{ $look: Look }>`
  display: inline-flex;
  align-items: center;
  justify-content: center;
  gap: 8px;
  min-height: 34px;
  padding: 5px 14px;
  border: 1px solid transparent;
  border-radius: 3px;
  font-weight: 600;
  font-size: 14px;
  cursor: pointer;
  white-space: nowrap;
  &[data-disabled] {
    opacity: 0.5;
    cursor: default;
  }
  &[data-pending] {
    cursor: progress;
  }
  &[data-pending]::after {
    content: "…";
  }
  ${(p) => looks[p.$look]}
`;

/** A button. One "main" on a screen: the thing one came to do; "quiet" among others, "inline" within a sentence. While pending it takes no second press. */
export function Button({ look = "plain", ...props }: ButtonProps & { look?: Look; ref?: Ref<HTMLButtonElement> }) {
  return <Styled $look={look} {...props} />;
}
