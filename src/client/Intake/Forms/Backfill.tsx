import { useQuery } from "@tanstack/react-query";
import { api, must } from "../../api/client";
import { useAct } from "../../common/acting";
import { keys } from "../../common/keys";
import { Aside } from "../../parts/Bench";
import { Button } from "../../parts/Button";
import { count } from "../../parts/format";
import { Row } from "../../parts/Layout";

/** Says when earlier posts had an answer that nobody asked for then, and fills the leads' blanks from them. Looked for only where it is likely: for a question just added. */
export function Backfill({ formKey, field, fresh }: { formKey: string; field: string; fresh: boolean }) {
  const path = { key: formKey };
  const look = useQuery({ queryKey: keys.backfill(formKey, field), queryFn: () => must(api.GET("/api/forms/{key}/backfill", { params: { path, query: { field } } })), enabled: fresh, staleTime: 60_000 });
  const act = useAct();
  if (!look.data?.leads) return null;
  const fill = () =>
    void act.run(() => must(api.POST("/api/forms/{key}/backfill", { params: { path }, body: { field } })), {
      changes: ["forms", "lead"],
      words: (done) => `Filled for ${count(done.leads, "lead")}.`,
      back: (done) => must(api.DELETE("/api/backfills/{id}", { params: { path: { id: done.id } } })),
    });
  return (
    <Row as={Aside} $gap={3} $above={2}>
      {count(look.data.posts, "earlier post")} had it unasked; {count(look.data.leads, "lead")} would be filled.
      <Button isPending={act.busy} onPress={fill}>
        Fill them
      </Button>
    </Row>
  );
}
