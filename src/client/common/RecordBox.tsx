import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, must } from "../api/client";
import { FindBox, type Found } from "../parts/FindBox";
import { useSettled } from "../parts/useSettled";
import { keys } from "./keys";
import { usePeople } from "./people";

type Props = { label: string; value: Found | null; onChange: (value: Found | null) => void; hint?: string; error?: string; autoFocus?: boolean; hideLabel?: boolean; isDisabled?: boolean };

const pause = 200;

/** An account, found by its name. */
export function AccountBox(props: Props) {
  const [sought, setSought] = useState("");
  const q = useSettled(sought, pause);
  const found = useQuery({ queryKey: keys.findAccounts(q), enabled: !!q.trim(), queryFn: () => must(api.GET("/api/accounts", { params: { query: { q } } })) });
  const lines = (q.trim() ? (found.data?.accounts ?? []) : []).map((a) => ({ key: a.id, label: a.name, line: [a.city, a.country].filter(Boolean).join(", ") }));
  return <FindBox {...props} found={lines} onSeek={setSought} isSeeking={found.isFetching || q !== sought} placeholder="type a name" none="No account by that name." />;
}

/** A contact, found by name or email; those of an account first, before anything is typed. */
export function ContactBox({ account, ...props }: Props & { account?: string }) {
  const [sought, setSought] = useState("");
  const q = useSettled(sought, pause).trim();
  const of = q ? undefined : account;
  const found = useQuery({ queryKey: keys.findContacts(q, of), enabled: !!q || !!account, queryFn: () => must(api.GET("/api/contacts", { params: { query: { q, account: of } } })) });
  const lines = (q || of ? (found.data?.contacts ?? []) : []).map((c) => ({ key: c.id, label: c.name, line: [c.jobTitle, c.accountName].filter(Boolean).join(", ") }));
  return <FindBox {...props} found={lines} onSeek={setSought} isSeeking={found.isFetching || q !== sought.trim()} placeholder="type a name or an email" none="Nobody by that name." />;
}

/** One of our people. */
export function PersonBox({ value, ...props }: Omit<Props, "value"> & { value: string | null }) {
  const [sought, setSought] = useState("");
  const people = (usePeople().data ?? []).map((p) => ({ key: p.id, label: p.name, line: p.away ? "away" : null }));
  const words = sought.toLowerCase().split(/\s+/);
  const fits = people.filter((p) => words.every((w) => p.label.toLowerCase().split(/\s+/).some((n) => n.startsWith(w))));
  return <FindBox {...props} value={people.find((p) => p.key === value) ?? null} found={fits} onSeek={setSought} placeholder="type a name" none="Nobody by that name." />;
}
