import { useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { api, must, type Schema } from "../api/client";
import { useSending } from "../common/acting";
import { Bench, Head, Inner, Pane, Table } from "../parts/Bench";
import { Button } from "../parts/Button";
import { Overlay } from "../parts/Dialog";
import { TextBox } from "../parts/Field";
import { PickListChoice, useKeptLabels } from "../common/PickList";
import { Empty, Skeleton, ErrorNote } from "../parts/States";
import { tell } from "../parts/Toast";
import { useSettled } from "../parts/useSettled";
import { countryName } from "../parts/format";
import { useMay, useRefresh } from "../common/session";
import { AccountPane } from "./AccountPane";
import { DirectoryTabs } from "./DirectoryTabs";
import { Filters, Narrow } from "./directory";
import { keys } from "../common/keys";

/** Organisations and households by name; one opens beside the list. */
export function AccountsPage() {
  const { id } = useParams();
  const [sought, setSought] = useState("");
  const [kind, setKind] = useState("");
  const [segment, setSegment] = useState("");
  const [making, setMaking] = useState(false);
  const may = useMay("workDeals");
  const q = useSettled(sought, 200);
  const list = useInfiniteQuery({
    queryKey: keys.accounts(q, kind, segment),
    initialPageParam: undefined as string | undefined,
    queryFn: ({ pageParam }) => must(api.GET("/api/accounts", { params: { query: { q, kind, segment, after: pageParam } } })),
    getNextPageParam: (page) => page.next ?? undefined,
  });
  const opened = useQuery({ queryKey: keys.account(id), enabled: !!id, queryFn: () => must(api.GET("/api/accounts/{id}", { params: { path: { id: id! } } })) });
  const rows = list.data?.pages.flatMap((p) => p.accounts) ?? [];
  return (
    <Bench>
      <Pane aria-label="Accounts">
        <Inner>
          <DirectoryTabs at="accounts" />
          <Head>
            <div>
              <h1>Accounts</h1>
              <p>Organisations and households, with everything that belongs to them.</p>
            </div>
            {may && <Button onPress={() => setMaking(true)}>New account</Button>}
          </Head>
          <Filters>
            <TextBox label="Name begins with" value={sought} onChange={setSought} />
            <PickListChoice list="contact-kinds" label="Kind" none="any" value={kind} onChange={setKind} />
            <PickListChoice list="segments" label="Segment" none="any" value={segment} onChange={setSegment} />
          </Filters>
          {list.isPending && <Skeleton />}
          {list.isError && <ErrorNote error={list.error} />}
          {list.data && rows.length === 0 && <Empty>No account fits. Accounts come from leads that are handed over, or are made by hand.</Empty>}
          {rows.length > 0 && <Rows rows={rows} selected={id} narrow={!!id} />}
          {list.hasNextPage && (
            <Button look="quiet" onPress={() => void list.fetchNextPage()} isDisabled={list.isFetchingNextPage}>
              Show more
            </Button>
          )}
        </Inner>
      </Pane>
      {id && opened.isError && <ErrorNote error={opened.error} />}
      {id && opened.data && <AccountPane key={id} account={opened.data} />}
      {making && <Making onLeave={() => setMaking(false)} />}
    </Bench>
  );
}

function Rows({ rows, selected, narrow }: { rows: Schema["AccountItem"][]; selected?: string; narrow: boolean }) {
  const kinds = useKeptLabels("contact-kinds");
  const segments = useKeptLabels("segments");
  return (
    <Table>
      <thead>
        <tr>
          <th>Account</th>
          <th>Kind</th>
          {!narrow && <th>Segment</th>}
          {!narrow && <th>Place</th>}
          <th>Owner</th>
          <th className="n">People</th>
          <th className="n">Open deals</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((a) => (
          <tr key={a.id} style={a.id === selected ? { background: "var(--sheet)" } : undefined}>
            <td>
              <Link to={`/deals/accounts/${a.id}`} aria-current={a.id === selected || undefined}>
                {a.name}
              </Link>
              {a.household && <Narrow> household</Narrow>}
            </td>
            <td>{a.kinds.map((k) => kinds[k] ?? k).join(", ")}</td>
            {!narrow && <td>{a.segments.map((s) => segments[s] ?? s).join(", ")}</td>}
            {!narrow && <td>{[a.city, a.country && countryName(a.country)].filter(Boolean).join(", ")}</td>}
            <td>{a.ownerName}</td>
            <td className="n">{a.contacts || ""}</td>
            <td className="n">{a.openDeals || ""}</td>
          </tr>
        ))}
      </tbody>
    </Table>
  );
}

function Making({ onLeave }: { onLeave: () => void }) {
  const [made, setMade] = useState({ name: "", country: "", website: "", household: false });
  const { busy, send, said, whole } = useSending();
  const navigate = useNavigate();
  const refresh = useRefresh();
  const keep = () =>
    send(async () => {
      const account = await must(api.POST("/api/accounts", { body: { ...made, country: made.country || null, website: made.website || null } }));
      await refresh();
      tell(`${account.name} is made.`);
      onLeave();
      void navigate(`/deals/accounts/${account.id}`);
    });
  return (
    <Overlay title="New account" isOpen onClose={onLeave} width={460}>
      <form
        style={{ display: "grid", gap: 12 }}
        onSubmit={(e) => {
          e.preventDefault();
          void keep();
        }}
      >
        <TextBox label="Name" value={made.name} onChange={(name) => setMade({ ...made, name })} error={said("name")} autoFocus />
        <TextBox label="Country" value={made.country} onChange={(country) => setMade({ ...made, country })} error={said("country")} />
        <TextBox label="Website" value={made.website} onChange={(website) => setMade({ ...made, website })} error={said("website")} />
        <label style={{ display: "flex", gap: 8, fontSize: 14 }}>
          <input type="checkbox" checked={made.household} onChange={(e) => setMade({ ...made, household: e.target.checked })} /> A household, not an organisation
        </label>
        {whole && <p role="alert" style={{ color: "var(--bad)" }}>{whole}</p>}
        <div>
          <Button type="submit" look="main" isDisabled={busy}>
            Make it
          </Button>
          <Button look="quiet" onPress={onLeave}>
            Cancel
          </Button>
        </div>
      </form>
    </Overlay>
  );
}
