import { useQueryClient } from "@tanstack/react-query";
import { api, must } from "../api/client";
import { EditionList } from "../parts/EditionList";
import { Skeleton, Trouble } from "../parts/States";
import { useEditions } from "./queries";
import type { Draft } from "./useDraft";

/** All editions of the scoring model. */
export function Editions({ draft, maySetUp }: { draft: Draft; maySetUp: boolean }) {
  const editions = useEditions();
  const client = useQueryClient();
  if (editions.isPending) return <Skeleton />;
  if (editions.isError) return <Trouble error={editions.error} />;
  const back = async (number: number) => {
    client.setQueryData(["scoring"], await must(api.POST("/api/scoring/editions/{number}/publish", { params: { path: { number } } })));
    void client.invalidateQueries();
  };
  const read = async (file: File) => {
    const problems = await draft.read(await file.text());
    await client.invalidateQueries({ queryKey: ["scoring"] });
    return problems;
  };
  return (
    <EditionList
      editions={editions.data}
      files={(n) => [{ label: "File", href: `/api/scoring/editions/${n}/file` }]}
      accept=".json,application/json"
      onBack={maySetUp ? back : undefined}
      onRead={maySetUp ? read : undefined}
    />
  );
}
