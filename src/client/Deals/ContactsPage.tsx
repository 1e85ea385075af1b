import { useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { api, must, type Schema } from "../api/client";
import { keys } from "../common/keys";
import { PickListChoice, useKeptLabels } from "../common/PickList";
import { DataTable } from "../parts/DataTable";
import { TextBox } from "../parts/Field";
import { ErrorNote } from "../parts/States";
import { useSettled } from "../parts/useSettled";
import { ContactPane } from "./ContactPane";
import { RecordRow } from "./directory";
import { DirectoryPage } from "./DirectoryPage";

/** People by name, whatever they are to us; one opens beside the list. */
export function ContactsPage() {
  const { id } = useParams();
  const [sought, setSought] = useState("");
  const [kind, setKind] = useState("");
  const q = useSettled(sought, 200);
  const list = useInfiniteQuery({
    queryKey: keys.contacts(q, kind),
    initialPageParam: undefined as string | undefined,
    queryFn: ({ pageParam }) => must(api.GET("/api/contacts", { params: { query: { q, kind, after: pageParam } } })),
    getNextPageParam: (page) => page.next ?? undefined,
  });
  const rows = list.data?.pages.flatMap((p) => p.contacts) ?? [];
  const filters = (
    <>
      <TextBox label="Name or email" value={sought} onChange={setSought} />
      <PickListChoice list="contact-kinds" label="Kind" none="any" value={kind} onChange={setKind} />
    </>
  );
  return (
    <DirectoryPage
      at="contacts"
      title="Contacts"
      intro="People, whatever they are to us: one directory for all."
      filters={filters}
      list={list}
      rows={rows.length > 0 ? <Rows rows={rows} selected={id} /> : null}
      empty="Nobody fits. Contacts come from leads that are handed over."
    >
      {id && <OpenContact key={id} id={id} />}
    </DirectoryPage>
  );
}

function OpenContact({ id }: { id: string }) {
  const opened = useQuery({ queryKey: keys.contact(id), queryFn: () => must(api.GET("/api/contacts/{id}", { params: { path: { id } } })) });
  if (opened.isError) return <ErrorNote error={opened.error} />;
  return opened.data ? <ContactPane contact={opened.data} /> : null;
}

function Rows({ rows, selected }: { rows: Schema["ContactItem"][]; selected?: string }) {
  const kinds = useKeptLabels("contact-kinds");
  const wide = !selected;
  return (
    <DataTable label="Contacts" head={["Contact", "Account", "Kind", ...(wide ? ["Email", "Phone"] : [])]}>
      {rows.map((c) => (
        <RecordRow key={c.id} $on={c.id === selected}>
          <td>
            <Link to={`/deals/contacts/${c.id}`} aria-current={c.id === selected || undefined}>
              {c.name}
            </Link>
            {c.jobTitle && <small>{c.jobTitle}</small>}
          </td>
          <td>{c.accountId && <Link to={`/deals/accounts/${c.accountId}`}>{c.accountName}</Link>}</td>
          <td>{kinds[c.kind] ?? c.kind}</td>
          {wide && <td>{c.email}</td>}
          {wide && <td>{c.phone}</td>}
        </RecordRow>
      ))}
    </DataTable>
  );
}
