import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { useNavigate } from "react-router";
import { tellOf } from "../parts/Toast";
import { isStale } from "./keys";

type Notice = { id: string; lead: string | null; subject: string };

const name = "lantern-notices";

/** Says in every open tab what one is told. Only one of the tabs listens, since a browser holds few connections open at once. */
export function useNotices(isOn: boolean) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  useEffect(() => {
    if (!isOn) return;
    const show = ({ subject, lead }: Notice) => {
      tellOf(subject, lead ? { label: "Open", go: () => void navigate(`/leads/${lead}`) } : undefined);
      void queries.invalidateQueries({ predicate: (q) => isStale(q.queryKey, ["lead", "arrivals", "outbox"]) });
    };
    const tabs = new BroadcastChannel(name);
    tabs.onmessage = (e: MessageEvent<Notice>) => show(e.data);
    const left = new AbortController();
    const listen = () =>
      new Promise<void>((done) => {
        const signs = new EventSource("/api/notices/live");
        signs.addEventListener("notice", (e) => {
          const notice = JSON.parse(e.data as string) as Notice;
          tabs.postMessage(notice);
          show(notice);
        });
        left.signal.addEventListener("abort", () => (signs.close(), done()));
      });
    // Where a page is not served safely a browser has no locks.
    void (navigator.locks ? navigator.locks.request(name, { signal: left.signal }, listen).catch(() => undefined) : listen());
    return () => (left.abort(), tabs.close());
  }, [isOn, queries, navigate]);
}
