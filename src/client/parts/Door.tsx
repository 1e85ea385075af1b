import type { ReactNode } from "react";
import styled from "styled-components";
import { Mark } from "./Mark";
import { serif } from "./theme";

const Page = styled.main<{ $alone: boolean }>`
  min-height: 100%;
  display: grid;
  grid-template-columns: minmax(0, 380px) ${(p) => !p.$alone && "minmax(0, 420px)"};
  gap: 72px;
  align-content: center;
  justify-content: center;
  padding: 40px 24px;
  @media (max-width: 767px) {
    grid-template-columns: minmax(0, 420px);
    gap: 40px;
  }
  form {
    margin-top: 24px;
  }
`;

const Name = styled.h1`
  ${serif}
  font-size: 34px;
  display: flex;
  align-items: center;
  gap: 14px;
`;

/** The page before one is in: our name, what is asked, and what else stands beside it. */
export function Door({ children, beside }: { children: ReactNode; beside?: ReactNode }) {
  return (
    <Page $alone={!beside}>
      <div>
        <Name>
          <Mark size={40} /> Dapper Lantern
        </Name>
        {children}
      </div>
      {beside}
    </Page>
  );
}
