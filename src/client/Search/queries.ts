import { useQuery } from "@tanstack/react-query";
import { api, must, type Schema } from "../api/client";
import { continues } from "./fitting";
import { keys } from "../common/keys";
import { useSettled } from "../parts/useSettled";

export type Hit = Schema["SearchHit"];

const pause = 120;

/** What the server finds for a text, once typing pauses; until then what was found for the text it continues. */
export function useSearch(text: string) {
  const asked = useSettled(text, pause).trim();
  const found = useQuery({
    queryKey: keys.search(asked),
    enabled: asked.length > 0,
    queryFn: async () => ({ of: asked, ...(await must(api.GET("/api/search", { params: { query: { text: asked } } }))) }),
    placeholderData: (before) => before,
  });
  const known = asked && found.data && continues(found.data.of, text.trim()) ? found.data : undefined;
  return { hits: known?.hits ?? [], meant: known?.meant ?? [], current: asked === text.trim() && !found.isPlaceholderData && !found.isPending };
}
