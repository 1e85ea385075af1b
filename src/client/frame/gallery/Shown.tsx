import type { ReactNode } from "react";
import styled from "styled-components";
import { Stack } from "../../parts/Layout";
import { Soft } from "../../parts/Words";

const Box = styled.section`
  margin-bottom: 32px;
  h2 {
    margin-bottom: 12px;
  }
`;

const Cells = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(260px, 100%), 1fr));
  gap: 20px 24px;
  align-items: start;
`;

/** Parts of one kind. */
export const Kind = ({ name, children }: { name: string; children: ReactNode }) => (
  <Box>
    <h2>{name}</h2>
    <Cells>{children}</Cells>
  </Box>
);

/** One part in one state, with the name of the state. */
export const Shown = ({ state, children }: { state: string; children: ReactNode }) => (
  <Stack $gap={1}>
    <Soft>{state}</Soft>
    <div>{children}</div>
  </Stack>
);
