import { useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { Bench, Cluster, Head, Inner, Pane, Table } from "../parts/Bench";
import { Button } from "../parts/Button";
import { DayBox } from "../parts/DayBox";
import { plusDays, startOf } from "../parts/days";
import { ChoiceBox } from "../parts/Field";
import { Files } from "../parts/Files";
import { exact, moment } from "../parts/format";
import { Empty, Skeleton, ErrorNote } from "../parts/States";
import { small } from "../parts/theme";
import { useSession } from "../common/session";
import { keys } from "../common/keys";

const Filters = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(170px, 1fr));
  gap: 12px;
  align-items: end;
  max-width: 860px;
  margin-bottom: 12px;
`;

const Rows = styled(Table)`
  table-layout: fixed;
  th:nth-child(1) {
    width: 120px;
  }
  th:nth-child(2) {
    width: 190px;
  }
  th:nth-child(4) {
    width: 230px;
  }
  time {
    ${small}
    white-space: nowrap;
  }
  td small {
    ${small}
    display: block;
  }
  td {
    overflow-wrap: anywhere;
  }
  @media (max-width: 767px) {
    thead {
      display: none;
    }
    tr {
      display: block;
      padding: 8px 0;
      border-bottom: 1px solid var(--hair);
    }
    td {
      display: block;
      padding: 0;
      border: 0;
    }
  }
`;

const Changes = styled.dl`
  display: grid;
  grid-template-columns: minmax(80px, max-content) minmax(0, 1fr);
  gap: 1px 10px;
  margin: 4px 0 0;
  font-size: 13px;
  dt {
    color: var(--soft);
  }
  dd {
    margin: 0;
  }
  del {
    color: var(--soft);
  }
  ins {
    text-decoration: none;
  }
`;

const all = { key: "", label: "anything" };
const anybody = { key: "", label: "anybody" };

/** Where a record of the log is seen; null for what has no page. */
const placeOf = (kind: string | null | undefined, id: string | null | undefined) => {
  if (!id) return null;
  const places: Record<string, string> = { lead: "/leads", deal: "/deals", account: "/deals/accounts", contact: "/deals/contacts", import: "/intake" };
  const place = places[kind ?? ""];
  return place ? `${place}/${id}` : null;
};

/** Who changed what and when: narrowed by person, subject and days, and exported as it is narrowed. */
export function LogPage() {
  const { timeZone } = useSession();
  const [address, setAddress] = useSearchParams();
  const [from, setFrom] = useState("");
  const [to, setTo] = useState("");
  const [person, setPerson] = useState("");
  const [group, setGroup] = useState("");
  const record = address.get("record") ?? undefined;
  const choices = useQuery({ queryKey: keys.logChoices, queryFn: () => must(api.GET("/api/log/choices")) });
  const query = {
    person: person || undefined,
    group: group || undefined,
    record,
    from: from ? startOf(from, timeZone).toISOString() : undefined,
    to: to ? startOf(plusDays(to, 1), timeZone).toISOString() : undefined,
  };
  const list = useInfiniteQuery({
    queryKey: keys.log(query),
    initialPageParam: undefined as string | undefined,
    queryFn: ({ pageParam }) => must(api.GET("/api/log", { params: { query: { ...query, after: pageParam } } })),
    getNextPageParam: (page) => page.next ?? undefined,
  });
  const lines = list.data?.pages.flatMap((p) => p.lines) ?? [];
  const asked = new URLSearchParams(Object.entries(query).filter((e): e is [string, string] => e[1] !== undefined));
  return (
    <Bench>
      <Pane aria-label="The log">
        <Inner>
          <Head>
            <div>
              <h1>The log</h1>
              <p>Who changed what and when. It is only ever added to: nobody can change it here or take an entry out.</p>
            </div>
            <span>
              <Files at="log" query={asked.toString()} name="log" />
            </span>
          </Head>
          <Filters>
            <ChoiceBox label="Who" value={person} options={[anybody, ...(choices.data?.people ?? []).map((p) => ({ key: p.id, label: p.name }))]} onChange={setPerson} />
            <ChoiceBox label="About" value={group} options={[all, ...(choices.data?.groups ?? [])]} onChange={setGroup} />
            <DayBox label="From" value={from} onChange={setFrom} />
            <DayBox label="To" value={to} onChange={setTo} />
          </Filters>
          {record && (
            <Cluster>
              <span>Only what concerns {lines.find((l) => l.record === record)?.recordName ?? "one record"}.</span>
              <Button look="quiet" onPress={() => setAddress({})}>
                Show everything
              </Button>
            </Cluster>
          )}
          {list.isPending && <Skeleton rows={10} />}
          {list.isError && <ErrorNote error={list.error} />}
          {list.data && lines.length === 0 && <Empty>Nothing of that happened.</Empty>}
          {lines.length > 0 && (
            <Rows>
              <thead>
                <tr>
                  <th>When</th>
                  <th>Who</th>
                  <th>What</th>
                  <th>Record</th>
                </tr>
              </thead>
              <tbody>
                {lines.map((l) => (
                  <Line key={l.id} line={l} timeZone={timeZone} />
                ))}
              </tbody>
            </Rows>
          )}
          {list.hasNextPage && (
            <Button look="quiet" onPress={() => void list.fetchNextPage()} isDisabled={list.isFetchingNextPage}>
              Show more
            </Button>
          )}
        </Inner>
      </Pane>
    </Bench>
  );
}

function Line({ line, timeZone }: { line: Schema["LogLine"]; timeZone: string }) {
  const place = placeOf(line.recordKind, line.record);
  const name = line.recordName ?? (line.record ? "one that is gone" : "");
  return (
    <tr>
      <td>
        <time dateTime={line.at} title={exact(line.at, timeZone)}>
          {moment(line.at, timeZone)}
        </time>
      </td>
      <td>
        {line.by ?? line.cause}
        {line.by && <small>{line.cause}</small>}
      </td>
      <td>
        {line.text}
        {line.changes.length > 0 && (
          <Changes>
            {line.changes.map((c) => (
              <Change key={c.what} change={c} />
            ))}
          </Changes>
        )}
      </td>
      <td>
        {place && line.recordName ? <Link to={place}>{name}</Link> : name}
        {line.record && line.recordKind && (
          <small>
            {line.recordKind} · <Link to={`?record=${line.record}`}>its log</Link>
          </small>
        )}
      </td>
    </tr>
  );
}

function Change({ change }: { change: Schema["LogChange"] }) {
  return (
    <>
      <dt>{change.what}</dt>
      <dd>
        {change.from && <del>{change.from}</del>}
        {change.from && " → "}
        <ins>{change.to || (change.from ? "blank" : "")}</ins>
      </dd>
    </>
  );
}
