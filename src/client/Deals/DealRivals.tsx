import { useState } from "react";
import { api, must, type Schema } from "../api/client";
import { Button } from "../parts/Button";
import { TextBox } from "../parts/Field";
import { Fold } from "../parts/Fold";
import { KeptChoice, useUnkept } from "../parts/KeptList";
import { useDealAct } from "./parts";

/** Who else sells to them, with what is known of it. */
export function DealRivals({ sheet, may }: { sheet: Schema["DealSheet"]; may: boolean }) {
  const act = useDealAct(sheet.deal.id);
  const isUnkept = useUnkept();
  const [adding, setAdding] = useState<{ rival: string; note: string }>();
  const put = (rivals: { rival: string; note: string }[]) => act(() => must(api.PUT("/api/deals/{id}/rivals", { params: { path: { id: sheet.deal.id } }, body: { rivals } })));
  const now = sheet.rivals.map((r) => ({ rival: r.rival, note: r.note }));
  return (
    <Fold title={`Competitors${sheet.rivals.length ? `, ${sheet.rivals.length}` : ""}`} open={sheet.rivals.length > 0}>
      {sheet.rivals.map((r) => (
        <div key={r.rival} style={{ display: "flex", justifyContent: "space-between", gap: 8, fontSize: 14, padding: "3px 0" }}>
          <span>
            {r.name}
            {r.note && <span style={{ color: "var(--soft)" }}>: {r.note}</span>}
          </span>
          {may && (
            <Button look="quiet" aria-label={`${r.name} is none any more`} onPress={() => void put(now.filter((n) => n.rival !== r.rival))}>
              ×
            </Button>
          )}
        </div>
      ))}
      {sheet.rivals.length === 0 && <p style={{ fontSize: 13, color: "var(--soft)" }}>None known.</p>}
      {may && !adding && (
        <Button look="quiet" onPress={() => setAdding({ rival: "", note: "" })}>
          Add one
        </Button>
      )}
      {adding && (
        <div style={{ display: "grid", gap: 8 }}>
          <KeptChoice list="competitors" label="Who" value={adding.rival || null} onChange={(rival) => setAdding({ ...adding, rival })} />
          <TextBox label="What is known of it" value={adding.note} onChange={(note) => setAdding({ ...adding, note })} />
          <div>
            <Button isDisabled={!adding.rival || isUnkept} onPress={() => void put([...now.filter((n) => n.rival !== adding.rival), adding]).then((done) => done && setAdding(undefined))}>
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
