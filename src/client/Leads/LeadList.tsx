import { useMemo } from "react";
import type { Field } from "../Conditions/conditions";
import { Button } from "../parts/Button";
import { Empty, ErrorNote, Skeleton } from "../parts/States";
import type { Ticked } from "../common/bulk";
import { Counts } from "./Counts";
import { Month } from "./Month";
import { useGroups, type useLeadPages } from "./queries";
import { whereOf, writeColumns, type useWork } from "./work";
import { Worklist } from "./Worklist";

type Props = {
  worklist: ReturnType<typeof useWork>;
  fields: Field[];
  pages: ReturnType<typeof useLeadPages>;
  selected?: string;
  ticked: Ticked | null;
  onTick: (ticked: Ticked) => void;
  onOpen: (lead: string) => void;
};

/** The leads of the sentence: as rows, counted, or on the days of a month. */
export function LeadList({ worklist, fields, selected, ...props }: Props) {
  const { work, params, set } = worklist;
  const wide = !selected;
  if (work.show === "counts" && wide) return <Counts where={whereOf(work)} fields={fields} params={params} set={set} />;
  if (work.show === "month" && wide) return <Month where={whereOf(work)} fields={fields} params={params} set={set} />;
  return <Rows worklist={worklist} fields={fields} selected={selected} {...props} />;
}

function Rows({ worklist: { work, set, setWhere }, fields, pages, selected, ticked, onTick, onOpen }: Props) {
  const leads = useMemo(() => pages.data?.pages.flatMap((p) => p.leads) ?? [], [pages.data]);
  const groups = useGroups(whereOf(work), work.group);
  const sizes = useMemo(() => new Map(groups.data?.rows.map((r, i) => [r.key, groups.data.cells.find((c) => c.row === i)?.count ?? 0])), [groups.data]);
  if (pages.isPending) return <Skeleton rows={9} />;
  if (pages.isError) return <ErrorNote error={pages.error} />;
  if (leads.length === 0) return <Empty action={<Button onPress={() => setWhere(null)}>Show all leads</Button>}>No lead fits this sentence. Loosen a condition, or look at all of them.</Empty>;
  return (
    <Worklist
      wide={!selected}
      leads={leads}
      work={work}
      fields={fields}
      counts={sizes}
      selected={selected}
      ticked={ticked}
      onTick={onTick}
      onOpen={onOpen}
      onMore={() => pages.hasNextPage && !pages.isFetching && void pages.fetchNextPage()}
      onOrder={(order) => set({ order })}
      onWidth={(field, width) => set({ columns: writeColumns(work.columns.map((c) => (c.field === field ? { field, width } : c))) })}
    />
  );
}
