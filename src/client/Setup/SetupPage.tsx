import type { UseQueryResult } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Form } from "react-aria-components";
import styled from "styled-components";
import { Bench, Head, Inner, Pane } from "../parts/Bench";
import { Skeleton, ErrorNote } from "../parts/States";

type Props<T> = { title: string; children: (data: T) => ReactNode; intro: string; query: UseQueryResult<T> };

/** A page of the setup: what it is for, and what is there once it has come. */
export function SetupPage<T>({ title, intro, query, children }: Props<T>) {
  return (
    <Bench>
      <Pane>
        <Inner>
          <Head>
            <div>
              <h1>{title}</h1>
              <p>{intro}</p>
            </div>
          </Head>
          {query.isPending && <Skeleton />}
          {query.isError && <ErrorNote error={query.error} />}
          {query.data !== undefined && children(query.data)}
        </Inner>
      </Pane>
    </Bench>
  );
}

const Row = styled(Form)<{ $columns: number }>`
  display: grid;
  grid-template-columns: 2fr repeat(${(p) => p.$columns}, 1fr) auto;
  gap: 10px 16px;
  align-items: start;
  max-width: ${(p) => 580 + 120 * p.$columns}px;
  margin-bottom: 24px;
  button[type="submit"] {
    margin-top: 23px;
  }
`;

/** A row of fields with its button at the end: a name, then so many choices. */
export function Adding({ onAdd, choices = 2, children }: { onAdd: () => Promise<void>; choices?: number; children: ReactNode }) {
  return (
    <Row
      $columns={choices}
      onSubmit={(e) => {
        e.preventDefault();
        void onAdd();
      }}
    >
      {children}
    </Row>
  );
}
