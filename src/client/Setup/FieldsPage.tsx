import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, must, type Schema } from "../api/client";
import { useAct } from "../common/acting";
import { keys } from "../common/keys";
import { Cap } from "../parts/Bench";
import { Button } from "../parts/Button";
import { DataTable } from "../parts/DataTable";
import { whole } from "../parts/format";
import { Empty } from "../parts/States";
import { AddField, ChangeField, fieldKinds, places } from "./FieldForms";
import { SetupPage } from "./SetupPage";

type Field = Schema["CustomFieldView"];

const words = new Map<string, string>(fieldKinds.map((k) => [k.key, k.label]));

/** Fields of one's own: there at once in lists, forms, conditions and on every lead. */
export function FieldsPage() {
  const fields = useQuery({ queryKey: keys.customFields, queryFn: () => must(api.GET("/api/custom-fields")) });
  const [changing, setChanging] = useState<Field>();
  return (
    <SetupPage title="Fields of your own" intro="A field added here is there at once: on leads in lists, forms and conditions; on contacts, accounts and deals beside the rest." query={fields}>
      {(data) => (
        <>
          <AddField />
          {data.length === 0 && <Empty>There are the built-in fields only.</Empty>}
          {data.length > 0 && (
            <DataTable label="Fields of your own" head={["Field", "Holds", "Kept with", { label: "Known for", isNumber: true }, { label: "Acts", isUnseen: true }]} hasButtons>
              {data.map((f) => (
                <Row key={f.key} field={f} onChange={() => setChanging(f)} />
              ))}
            </DataTable>
          )}
          {changing && <ChangeField key={changing.key} field={changing} onDone={() => setChanging(undefined)} />}
        </>
      )}
    </SetupPage>
  );
}

function Row({ field: f, onChange }: { field: Field; onChange: () => void }) {
  const act = useAct();
  const remove = () => void act.run(() => must(api.DELETE("/api/custom-fields/{key}", { params: { path: { key: f.key } } })), { changes: ["setup"], words: "Removed." });
  return (
    <tr>
      <td>
        {f.label}
        {f.personal && <Cap>about a person</Cap>}
        {f.cost && <Cap>a cost or a margin</Cap>}
      </td>
      <td>
        {words.get(f.type) ?? f.type}
        {f.currency && `, in ${f.currency}`}
        {f.choices.length > 0 && <Cap>{f.choices.map((c) => c.label).join(", ")}</Cap>}
      </td>
      <td>{places.find((p) => p.lands === f.lands && p.onLead === f.onLead)?.label}</td>
      <td className="n">{whole(f.known)}</td>
      <td>
        <Button look="quiet" onPress={onChange}>
          Change
        </Button>
        {f.known === 0 && (
          <Button look="quiet" onPress={remove}>
            Remove
          </Button>
        )}
      </td>
    </tr>
  );
}
