import type { UseQueryResult } from "@tanstack/react-query";
import type { ReactNode } from "react";
import styled from "styled-components";
import type { FormState } from "../common/form";
import { Bench, Head, Inner, Pane } from "../parts/Bench";
import { Button } from "../parts/Button";
import { ErrorNote, Skeleton } from "../parts/States";
import { useAnyUnread } from "../parts/unread";
import { Wrong } from "../parts/Words";

type Props<T> = { title: string; children: (data: T) => ReactNode; intro: ReactNode; query: Pick<UseQueryResult<T>, "data" | "error" | "isPending" | "isError">; beside?: ReactNode };

/** A page of the setup: what it is for, and what is there once it has come. */
export function SetupPage<T>({ title, intro, query, beside, children }: Props<T>) {
  return (
    <Bench>
      <Pane aria-label={title}>
        <Inner>
          <Head>
            <div>
              <h1>{title}</h1>
              <p>{intro}</p>
            </div>
            {beside}
          </Head>
          {query.isPending && <Skeleton />}
          {query.isError && <ErrorNote error={query.error} />}
          {query.data !== undefined && children(query.data)}
        </Inner>
      </Pane>
    </Bench>
  );
}

const Row = styled.form<{ $columns: number }>`
  display: grid;
  grid-template-columns: 2fr ${(p) => p.$columns > 0 && `repeat(${p.$columns}, 1fr)`} auto;
  gap: 10px 16px;
  align-items: start;
  max-width: ${(p) => 580 + 120 * p.$columns}px;
  margin-bottom: 24px;
  button[type="submit"] {
    margin-top: 23px;
  }
  .wide {
    grid-column: 1 / -1;
  }
  @media (max-width: 900px) {
    grid-template-columns: minmax(0, 1fr);
    button[type="submit"] {
      margin-top: 0;
      justify-self: start;
    }
  }
`;

type AddingProps = { form: FormState; words: string; onAdd: () => unknown; isReady?: boolean; columns?: number; label?: string; children: ReactNode; below?: ReactNode };

/** A row of fields with its button at the end: a name, then so many choices; more stands below. */
export function Adding({ form, words, onAdd, isReady = true, columns = 2, label, children, below }: AddingProps) {
  const isUnread = useAnyUnread();
  const may = isReady && !isUnread && !form.busy;
  return (
    <Row
      noValidate
      aria-label={label}
      $columns={columns}
      onSubmit={(e) => {
        e.preventDefault();
        if (may) onAdd();
      }}
    >
      {children}
      <Button look="main" type="submit" isPending={form.busy} isDisabled={!may && !form.busy}>
        {words}
      </Button>
      {below}
      {form.whole && (
        <div className="wide">
          <Wrong>{form.whole}</Wrong>
        </div>
      )}
    </Row>
  );
}
