import { EditionList } from "../common/EditionList";
import { Skeleton, ErrorNote } from "../parts/States";
import { useEditions } from "./queries";
import type { Draft } from "./useDraft";

const forms = ["json", "csv", "dmn"];

/** All editions of the rule sheet, as files in three forms. */
export function Editions({ draft, maySetUp }: { draft: Draft; maySetUp: boolean }) {
  const editions = useEditions();
  if (editions.isPending) return <Skeleton />;
  if (editions.isError) return <ErrorNote error={editions.error} />;
  const read = async (file: File) => {
    const ending = file.name.split(".").at(-1)?.toLowerCase() ?? "";
    return draft.read(await file.text(), forms.includes(ending) ? ending : ending === "xml" ? "dmn" : "json");
  };
  return (
    <EditionList
      editions={editions.data}
      files={(n) => forms.map((form) => ({ label: form.toUpperCase(), href: `/api/routing/editions/${n}/file?form=${form}` }))}
      accept=".json,.csv,.dmn,.xml"
      onBack={maySetUp ? draft.back : undefined}
      onRead={maySetUp ? read : undefined}
    />
  );
}
