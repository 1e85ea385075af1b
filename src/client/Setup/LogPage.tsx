import { useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useSearchParams } from "react-router";
import styled from "styled-components";
import { api, must } from "../api/client";
import { keys } from "../common/keys";
import { useSession } from "../common/session";
import { Cluster } from "../parts/Bench";
import { Button } from "../parts/Button";
import { DayBox } from "../parts/DayBox";
import { plusDays, startOf } from "../parts/days";
import { ChoiceBox } from "../parts/Field";
import { Files } from "../parts/Files";
import { Empty } from "../parts/States";
import { LogRows } from "./LogRows";
import { SetupPage } from "./SetupPage";

const Filters = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(170px, 1fr));
  gap: 12px;
  align-items: start;
  max-width: 860px;
  margin-bottom: 12px;
`;

const all = { key: "", label: "anything" };
const anybody = { key: "", label: "anybody" };

type Narrow = { person: string; group: string; from: string; to: string };

/** What the server is asked for: blanks narrow nothing; the last day is whole. */
const queryOf = ({ person, group, from, to }: Narrow, record: string | undefined, zone: string) => ({
  person: person || undefined,
  group: group || undefined,
  record,
  from: from ? startOf(from, zone).toISOString() : undefined,
  to: to ? startOf(plusDays(to, 1), zone).toISOString() : undefined,
});

const intro = "Who changed what and when. It is only ever added to: nobody can change it here or take an entry out.";

/** Who changed what and when: narrowed by person, subject and days, and exported as it is narrowed. */
export function LogPage() {
  const { timeZone } = useSession();
  const [address, setAddress] = useSearchParams();
  const [narrow, setNarrow] = useState<Narrow>({ person: "", group: "", from: "", to: "" });
  const record = address.get("record") ?? undefined;
  const query = queryOf(narrow, record, timeZone);
  const list = useInfiniteQuery({
    queryKey: keys.log(query),
    initialPageParam: undefined as string | undefined,
    queryFn: ({ pageParam }) => must(api.GET("/api/log", { params: { query: { ...query, after: pageParam } } })),
    getNextPageParam: (page) => page.next ?? undefined,
  });
  const asked = new URLSearchParams(Object.entries(query).filter((e): e is [string, string] => e[1] !== undefined));
  const files = (
    <span>
      <Files at="log" query={asked.toString()} name="log" />
    </span>
  );
  // The boxes stand whatever has come.
  const lines = list.data?.pages.flatMap((p) => p.lines);
  return (
    <SetupPage title="The log" intro={intro} query={{ ...list, data: lines ?? [], isPending: list.isPending }} beside={files}>
      {(found) => (
        <>
          <Narrowing narrow={narrow} onChange={setNarrow} />
          {record && (
            <Cluster>
              <span>Only what concerns {found.find((l) => l.record === record)?.recordName ?? "one record"}.</span>
              <Button look="quiet" onPress={() => setAddress({})}>
                Show everything
              </Button>
            </Cluster>
          )}
          {lines && lines.length === 0 && <Empty>Nothing of that happened.</Empty>}
          {found.length > 0 && <LogRows lines={found} />}
          {list.hasNextPage && (
            <Button look="quiet" onPress={() => void list.fetchNextPage()} isPending={list.isFetchingNextPage}>
              Show more
            </Button>
          )}
        </>
      )}
    </SetupPage>
  );
}

function Narrowing({ narrow, onChange }: { narrow: Narrow; onChange: (narrow: Narrow) => void }) {
  const choices = useQuery({ queryKey: keys.logChoices, queryFn: () => must(api.GET("/api/log/choices")) }).data;
  const bind = <K extends keyof Narrow>(key: K) => ({ value: narrow[key], onChange: (value: string) => onChange({ ...narrow, [key]: value }) });
  return (
    <Filters>
      <ChoiceBox label="Who" {...bind("person")} options={[anybody, ...(choices?.people ?? []).map((p) => ({ key: p.id, label: p.name }))]} />
      <ChoiceBox label="About" {...bind("group")} options={[all, ...(choices?.groups ?? [])]} />
      <DayBox label="From" past {...bind("from")} />
      <DayBox label="To" past {...bind("to")} />
    </Filters>
  );
}
