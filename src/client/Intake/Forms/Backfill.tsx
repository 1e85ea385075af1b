import { useQuery } from "@tanstack/react-query";
import { api, must } from "../../api/client";
import { Button } from "../../parts/Button";
import { count } from "../../parts/format";
import { tell, tellError } from "../../parts/Toast";
import { useRefresh } from "../../common/session";
import { keys } from "../../common/keys";

/** Says when earlier posts had an answer that nobody asked for then, and fills the leads' blanks from them. Looked for only where it is likely: for a question just added. */
export function Backfill({ formKey, field, fresh }: { formKey: string; field: string; fresh: boolean }) {
  const path = { key: formKey };
  const look = useQuery({ queryKey: keys.backfill(formKey, field), queryFn: () => must(api.GET("/api/forms/{key}/backfill", { params: { path, query: { field } } })), enabled: fresh, staleTime: 60_000 });
  const refresh = useRefresh();
  if (!look.data?.leads) return null;
  const fill = async () => {
    try {
      const done = await must(api.POST("/api/forms/{key}/backfill", { params: { path }, body: { field } }));
      await refresh();
      tell(`Filled for ${count(done.leads, "lead")}.`, () => must(api.DELETE("/api/backfills/{id}", { params: { path: { id: done.id } } })).then(refresh));
    } catch (e) {
      tellError(e);
    }
  };
  return (
    <p style={{ display: "flex", gap: 12, alignItems: "center", fontSize: 14, borderLeft: "3px solid var(--lamp)", paddingLeft: 12, marginTop: 8 }}>
      {count(look.data.posts, "earlier post")} had it unasked; {count(look.data.leads, "lead")} would be filled.
      <Button onPress={fill}>Fill them</Button>
    </p>
  );
}
