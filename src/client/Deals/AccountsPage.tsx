import { useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { api, must, type Schema } from "../api/client";
import { keys } from "../common/keys";
import { PickListChoice, useKeptLabels } from "../common/PickList";
import { useMay } from "../common/session";
import { Button } from "../parts/Button";
import { DataTable } from "../parts/DataTable";
import { TextBox } from "../parts/Field";
import { countryName } from "../parts/format";
import { ErrorNote } from "../parts/States";
import { useSettled } from "../parts/useSettled";
import { Soft } from "../parts/Words";
import { AccountPane } from "./AccountPane";
import { RecordRow } from "./directory";
import { DirectoryPage } from "./DirectoryPage";
import { NewAccount } from "./NewAccount";

/** Organisations and households by name; one opens beside the list. */
export function AccountsPage() {
  const { id } = useParams();
  const [narrow, setNarrow] = useState({ sought: "", kind: "", segment: "" });
  const [making, setMaking] = useState(false);
  const may = useMay("workDeals");
  const q = useSettled(narrow.sought, 200);
  const { kind, segment } = narrow;
  const list = useInfiniteQuery({
    queryKey: keys.accounts(q, kind, segment),
    initialPageParam: undefined as string | undefined,
    queryFn: ({ pageParam }) => must(api.GET("/api/accounts", { params: { query: { q, kind, segment, after: pageParam } } })),
    getNextPageParam: (page) => page.next ?? undefined,
  });
  const rows = list.data?.pages.flatMap((p) => p.accounts) ?? [];
  const bind = (key: keyof typeof narrow) => ({ value: narrow[key], onChange: (value: string) => setNarrow({ ...narrow, [key]: value }) });
  const filters = (
    <>
      <TextBox label="Name begins with" {...bind("sought")} />
      <PickListChoice list="contact-kinds" label="Kind" none="any" {...bind("kind")} />
      <PickListChoice list="segments" label="Segment" none="any" {...bind("segment")} />
    </>
  );
  return (
    <DirectoryPage
      at="accounts"
      title="Accounts"
      intro="Organisations and households, with everything that belongs to them."
      beside={may && <Button onPress={() => setMaking(true)}>New account</Button>}
      filters={filters}
      list={list}
      rows={rows.length > 0 ? <Rows rows={rows} selected={id} /> : null}
      empty="No account fits. Accounts come from leads that are handed over, or are made by hand."
    >
      {id && <OpenAccount key={id} id={id} />}
      {making && <NewAccount onLeave={() => setMaking(false)} />}
    </DirectoryPage>
  );
}

function OpenAccount({ id }: { id: string }) {
  const opened = useQuery({ queryKey: keys.account(id), queryFn: () => must(api.GET("/api/accounts/{id}", { params: { path: { id } } })) });
  if (opened.isError) return <ErrorNote error={opened.error} />;
  return opened.data ? <AccountPane account={opened.data} /> : null;
}

const numeric = (label: string) => ({ label, isNumber: true });

function Rows({ rows, selected }: { rows: Schema["AccountItem"][]; selected?: string }) {
  const kinds = useKeptLabels("contact-kinds");
  const segments = useKeptLabels("segments");
  const wide = !selected;
  return (
    <DataTable label="Accounts" head={["Account", "Kind", ...(wide ? ["Segment", "Place"] : []), "Owner", numeric("People"), numeric("Open deals")]}>
      {rows.map((a) => (
        <RecordRow key={a.id} $on={a.id === selected}>
          <td>
            <Link to={`/deals/accounts/${a.id}`} aria-current={a.id === selected || undefined}>
              {a.name}
            </Link>
            {a.household && <Soft> household</Soft>}
          </td>
          <td>{a.kinds.map((k) => kinds[k] ?? k).join(", ")}</td>
          {wide && <td>{a.segments.map((s) => segments[s] ?? s).join(", ")}</td>}
          {wide && <td>{[a.city, a.country && countryName(a.country)].filter(Boolean).join(", ")}</td>}
          <td>{a.ownerName}</td>
          <td className="n">{a.contacts || ""}</td>
          <td className="n">{a.openDeals || ""}</td>
        </RecordRow>
      ))}
    </DataTable>
  );
}
