import { EditionList } from "../common/EditionList";
import { Skeleton, ErrorNote } from "../parts/States";
import { useEditions } from "./queries";
import type { Draft } from "./useDraft";

/** All editions of the scoring model. */
export function Editions({ draft, maySetUp }: { draft: Draft; maySetUp: boolean }) {
  const editions = useEditions();
  if (editions.isPending) return <Skeleton />;
  if (editions.isError) return <ErrorNote error={editions.error} />;
  return (
    <EditionList
      editions={editions.data}
      files={(n) => [{ label: "File", href: `/api/scoring/editions/${n}/file` }]}
      accept=".json,application/json"
      onBack={maySetUp ? draft.back : undefined}
      onRead={maySetUp ? async (file) => draft.read(await file.text()) : undefined}
    />
  );
}
