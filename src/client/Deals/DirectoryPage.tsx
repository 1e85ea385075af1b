import type { ReactNode } from "react";
import { Bench, Head, Inner, Pane } from "../parts/Bench";
import { Button } from "../parts/Button";
import { Empty, ErrorNote, Skeleton } from "../parts/States";
import { Filters } from "./directory";
import { DirectoryTabs } from "./DirectoryTabs";

type List = { isPending: boolean; isError: boolean; error: unknown; hasNextPage: boolean; isFetchingNextPage: boolean; fetchNextPage: () => unknown };

type Props = {
  at: "accounts" | "contacts";
  title: string;
  intro: string;
  beside?: ReactNode;
  filters: ReactNode;
  list: List;
  /** The rows; null where none fits. */
  rows: ReactNode | null;
  empty: string;
  /** The record that is open beside the list. */
  children: ReactNode;
};

/** A directory: what narrows it, its rows, and beside them the record that is open. */
export function DirectoryPage({ at, title, intro, beside, filters, list, rows, empty, children }: Props) {
  return (
    <Bench>
      <Pane aria-label={title} data-landing="list">
        <Inner>
          <DirectoryTabs at={at} />
          <Head>
            <div>
              <h1>{title}</h1>
              <p>{intro}</p>
            </div>
            {beside}
          </Head>
          <Filters>{filters}</Filters>
          {list.isPending && <Skeleton />}
          {list.isError && <ErrorNote error={list.error} />}
          {!list.isPending && !list.isError && (rows ?? <Empty>{empty}</Empty>)}
          {list.hasNextPage && (
            <Button look="quiet" onPress={() => void list.fetchNextPage()} isPending={list.isFetchingNextPage}>
              Show more
            </Button>
          )}
        </Inner>
      </Pane>
      {children}
    </Bench>
  );
}
