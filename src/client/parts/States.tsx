import type { ReactNode } from "react";
import styled, { keyframes } from "styled-components";

const breathe = keyframes`50% { opacity: .45; }`;

const Bar = styled.div`
  height: 12px;
  border-radius: 3px;
  background: var(--hair);
  animation: ${breathe} 1.4s ease-in-out infinite;
`;

const Rows = styled.div`
  display: flex;
  flex-direction: column;
  gap: 20px;
  padding: 18px;
`;

const widths = [78, 62, 85, 54, 70, 48, 66, 80];

/** Rows that are on their way; the frame is there at once. */
export function Skeleton({ rows = 6 }: { rows?: number }) {
  return (
    <Rows role="status" aria-label="Loading">
      {Array.from({ length: rows }, (_, i) => (
        <Bar key={i} style={{ width: `${widths[i % widths.length]}%` }} />
      ))}
    </Rows>
  );
}

const Note = styled.div`
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  gap: 12px;
  padding: 28px 22px;
  max-width: 52ch;
  color: var(--soft);
`;

/** One sentence on what this is for, and the one button that starts it. */
export function Empty({ children, action }: { children: ReactNode; action?: ReactNode }) {
  return (
    <Note>
      <p>{children}</p>
      {action}
    </Note>
  );
}

const Said = styled.div`
  margin: 18px;
  padding: 10px 14px;
  border-left: 4px solid var(--bad);
  background: var(--bad-wash);
  max-width: 70ch;
`;

/** What happened, what was kept, what to do. */
export function ErrorNote({ error }: { error: unknown }) {
  return <Said role="alert">{error instanceof Error ? error.message : "Something went wrong. Nothing was changed; try again."}</Said>;
}
