import { useState } from "react";
import { api, must, type Schema } from "../api/client";
import { Button } from "../parts/Button";
import { TextBox } from "../parts/Field";
import { Fold } from "../parts/Fold";
import { PickListChoice, useUnkept } from "../common/PickList";
import { useDealAct } from "./parts";

/** Who else sells to them, with what is known of it. */
export function DealCompetitors({ sheet, may }: { sheet: Schema["DealSheet"]; may: boolean }) {
  const act = useDealAct(sheet.deal.id);
  const isUnkept = useUnkept();
  const [adding, setAdding] = useState<{ competitor: string; note: string }>();
  const put = (competitors: { competitor: string; note: string }[]) => act(() => must(api.PUT("/api/deals/{id}/competitors", { params: { path: { id: sheet.deal.id } }, body: { competitors } })));
  const now = sheet.competitors.map((r) => ({ competitor: r.competitor, note: r.note }));
  return (
    <Fold title={`Competitors${sheet.competitors.length ? `, ${sheet.competitors.length}` : ""}`} open={sheet.competitors.length > 0}>
      {sheet.competitors.map((r) => (
        <div key={r.competitor} style={{ display: "flex", justifyContent: "space-between", gap: 8, fontSize: 14, padding: "3px 0" }}>
          <span>
            {r.name}
            {r.note && <span style={{ color: "var(--soft)" }}>: {r.note}</span>}
          </span>
          {may && (
            <Button look="quiet" aria-label={`${r.name} is none any more`} onPress={() => void put(now.filter((n) => n.competitor !== r.competitor))}>
              ×
            </Button>
          )}
        </div>
      ))}
      {sheet.competitors.length === 0 && <p style={{ fontSize: 13, color: "var(--soft)" }}>None known.</p>}
      {may && !adding && (
        <Button look="quiet" onPress={() => setAdding({ competitor: "", note: "" })}>
          Add one
        </Button>
      )}
      {adding && (
        <div style={{ display: "grid", gap: 8 }}>
          <PickListChoice list="competitors" label="Who" value={adding.competitor || null} onChange={(competitor) => setAdding({ ...adding, competitor })} />
          <TextBox label="What is known of it" value={adding.note} onChange={(note) => setAdding({ ...adding, note })} />
          <div>
            <Button isDisabled={!adding.competitor || isUnkept} onPress={() => void put([...now.filter((n) => n.competitor !== adding.competitor), adding]).then((done) => done && setAdding(undefined))}>
              Add
            </Button>
            <Button look="quiet" onPress={() => setAdding(undefined)}>
              Cancel
            </Button>
          </div>
        </div>
      )}
    </Fold>
  );
}
