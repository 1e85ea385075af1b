import styled from "styled-components";
import type { Schema } from "../api/client";
import { left } from "./format";

const Box = styled.div<{ $late: boolean }>`
  font-size: 12px;
  text-align: right;
  white-space: nowrap;
  color: ${(p) => (p.$late ? "var(--bad)" : "var(--ink)")};
  i {
    display: block;
    height: 3px;
    margin-top: 3px;
    background: var(--hair);
  }
  i::after {
    content: "";
    display: block;
    height: 100%;
    width: var(--used);
    background: ${(p) => (p.$late ? "var(--bad)" : "var(--slate)")};
  }
`;

/** The response clock: working time left, and the share used. Nothing when none runs. */
export function ClockBar({ clock }: { clock: Schema["ClockView"] | null | undefined }) {
  if (!clock) return null;
  const late = clock.used >= 0.85;
  return (
    <Box $late={late} title="working time until this must be answered">
      {left(clock.minutesLeft)}
      <i style={{ ["--used" as string]: `${Math.min(100, Math.max(2, clock.used * 100))}%` }} />
    </Box>
  );
}
