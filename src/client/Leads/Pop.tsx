import type { ReactNode } from "react";
import { Button as Press, DialogTrigger } from "react-aria-components";
import styled from "styled-components";
import { Hanging } from "../parts/Hanging";
import { small } from "../parts/theme";

/** A word that does something, among others in a line. */
export const Word = styled(Press)`
  border: 0;
  background: none;
  padding: 2px 0;
  min-height: 24px;
  color: var(--soft);
  font-size: 13px;
  cursor: pointer;
  &[data-hovered] {
    color: var(--slate);
    text-decoration: underline;
    text-underline-offset: 3px;
  }
`;

export const PopBox = styled.div`
  display: flex;
  flex-direction: column;
  gap: 10px;
  padding: 14px;
  width: 320px;
  max-width: calc(100vw - 24px);
  max-height: 440px;
  overflow: auto;
  ol {
    list-style: none;
    padding: 0;
    display: flex;
    flex-direction: column;
    gap: 2px;
  }
  li {
    display: flex;
    align-items: center;
    font-size: 14px;
    border-bottom: 1px solid var(--hair);
  }
  li > span {
    flex: 1;
    min-width: 0;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  p {
    ${small}
  }
`;

/** A word that opens a small sheet below it. */
export function Pop({ word, label, children }: { word: string; label: string; children: ReactNode }) {
  return (
    <DialogTrigger>
      <Word>{word}</Word>
      <Hanging label={label} placement="bottom end">
        {children}
      </Hanging>
    </DialogTrigger>
  );
}
