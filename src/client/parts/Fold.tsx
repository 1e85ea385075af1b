import { useState, type ReactNode } from "react";
import styled from "styled-components";

const Box = styled.details`
  border-top: 1px solid var(--hair);
  padding-top: 8px;
  margin-top: 8px;
  summary {
    cursor: pointer;
    font-weight: 600;
    font-size: 14px;
    margin-bottom: 6px;
  }
`;

/** A part that is folded away until it is wanted. What is in it is drawn from then on. */
export function Fold({ title, open = false, children }: { title: ReactNode; open?: boolean; children: ReactNode }) {
  const [unfolded, setUnfolded] = useState(open);
  return (
    <Box open={unfolded} onToggle={(e) => setUnfolded(e.currentTarget.open)}>
      <summary>{title}</summary>
      {unfolded && children}
    </Box>
  );
}
