import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, must, type Schema } from "../api/client";

export type Hit = Schema["SearchHit"];

const pause = 120;

/** What the server finds for a text, once typing pauses. `text` says for which text it is. */
export function useSearch(text: string) {
  const [asked, setAsked] = useState("");
  useEffect(() => {
    const wait = setTimeout(() => setAsked(text.trim()), pause);
    return () => clearTimeout(wait);
  }, [text]);
  const found = useQuery({
    queryKey: ["search", asked],
    enabled: asked.length > 0,
    queryFn: () => must(api.GET("/api/search", { params: { query: { text: asked } } })),
    placeholderData: (before) => before,
  });
  return { hits: asked ? (found.data?.hits ?? []) : [], meant: asked ? (found.data?.meant ?? []) : [], current: asked === text.trim() && !found.isPlaceholderData && !found.isPending };
}
