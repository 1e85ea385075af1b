import { useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { api, must } from "../api/client";
import { Bench, Head, Inner, Pane, Table } from "../parts/Bench";
import { Button } from "../parts/Button";
import { TextBox } from "../parts/Field";
import { PickListChoice, useKeptLabels } from "../common/PickList";
import { Empty, Skeleton, ErrorNote } from "../parts/States";
import { useSettled } from "../parts/useSettled";
import { ContactPane } from "./ContactPane";
import { Filters } from "./directory";
import { DirectoryTabs } from "./DirectoryTabs";
import { keys } from "../common/keys";

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
  const opened = useQuery({ queryKey: keys.contact(id), enabled: !!id, queryFn: () => must(api.GET("/api/contacts/{id}", { params: { path: { id: id! } } })) });
  const kinds = useKeptLabels("contact-kinds");
  const rows = list.data?.pages.flatMap((p) => p.contacts) ?? [];
  return (
    <Bench>
      <Pane aria-label="Contacts">
        <Inner>
          <DirectoryTabs at="contacts" />
          <Head>
            <div>
              <h1>Contacts</h1>
              <p>People, whatever they are to us: one directory for all.</p>
            </div>
          </Head>
          <Filters>
            <TextBox label="Name or email" value={sought} onChange={setSought} />
            <PickListChoice list="contact-kinds" label="Kind" none="any" value={kind} onChange={setKind} />
          </Filters>
          {list.isPending && <Skeleton />}
          {list.isError && <ErrorNote error={list.error} />}
          {list.data && rows.length === 0 && <Empty>Nobody fits. Contacts come from leads that are handed over.</Empty>}
          {rows.length > 0 && (
            <Table>
              <thead>
                <tr>
                  <th>Contact</th>
                  <th>Account</th>
                  <th>Kind</th>
                  {!id && <th>Email</th>}
                  {!id && <th>Phone</th>}
                </tr>
              </thead>
              <tbody>
                {rows.map((c) => (
                  <tr key={c.id} style={c.id === id ? { background: "var(--sheet)" } : undefined}>
                    <td>
                      <Link to={`/deals/contacts/${c.id}`} aria-current={c.id === id || undefined}>
                        {c.name}
                      </Link>
                      {c.jobTitle && <small style={{ display: "block", color: "var(--soft)" }}>{c.jobTitle}</small>}
                    </td>
                    <td>{c.accountId && <Link to={`/deals/accounts/${c.accountId}`}>{c.accountName}</Link>}</td>
                    <td>{kinds[c.kind] ?? c.kind}</td>
                    {!id && <td>{c.email}</td>}
                    {!id && <td>{c.phone}</td>}
                  </tr>
                ))}
              </tbody>
            </Table>
          )}
          {list.hasNextPage && (
            <Button look="quiet" onPress={() => void list.fetchNextPage()} isDisabled={list.isFetchingNextPage}>
              Show more
            </Button>
          )}
        </Inner>
      </Pane>
      {id && opened.isError && <ErrorNote error={opened.error} />}
      {id && opened.data && <ContactPane key={id} contact={opened.data} />}
    </Bench>
  );
}
