import { useQuery } from "@tanstack/react-query";
import { api, must } from "../api/client";
import { useAct } from "../common/acting";
import { useForm } from "../common/form";
import { keys } from "../common/keys";
import { useSession } from "../common/session";
import { Button } from "../parts/Button";
import { DataTable } from "../parts/DataTable";
import { ChoiceBox, TextBox } from "../parts/Field";
import { moment } from "../parts/format";
import { Empty } from "../parts/States";
import { Adding, SetupPage } from "./SetupPage";

const whys: Record<string, string> = { do_not_contact: "do not contact", competitor: "a competitor", blocked: "blocked" };

const kinds = [
  { key: "person", label: "a person" },
  { key: "domain", label: "a domain" },
];

/** Persons and domains that do not come in, by any way. Persons are kept as a mark, so that the list outlives their data. */
export function BarredPage() {
  const barred = useQuery({ queryKey: keys.barred, queryFn: () => must(api.GET("/api/barred")) });
  const { timeZone } = useSession();
  const act = useAct();
  const free = (id: string) => void act.run(() => must(api.DELETE("/api/barred/{id}", { params: { path: { id } } })), { changes: ["barred"], words: "Barred no longer." });
  return (
    <SetupPage title="Do not contact" intro="Looked at on every way in. A person is kept as a mark from which the address cannot be read, so the list may outlive their data." query={barred}>
      {(data) => (
        <>
          <Bar />
          {data.length === 0 && <Empty>Nobody is barred.</Empty>}
          {data.length > 0 && (
            <DataTable label="Barred" head={["Who", "Why", "Since", { label: "Acts", isUnseen: true }]} hasButtons>
              {data.map((b) => (
                <tr key={b.id}>
                  <td>{b.shown ?? "a person, kept as a mark"}</td>
                  <td>{whys[b.why] ?? b.why}</td>
                  <td>{moment(b.at, timeZone)}</td>
                  <td>
                    <Button look="quiet" onPress={() => free(b.id)}>
                      Bar no longer
                    </Button>
                  </td>
                </tr>
              ))}
            </DataTable>
          )}
        </>
      )}
    </SetupPage>
  );
}

function Bar() {
  const form = useForm({ called: "whom to bar", name: "bar", initial: { value: "", kind: "person", why: "do_not_contact" } });
  const { value, kind } = form.values;
  const bar = () => form.send((body) => must(api.POST("/api/barred", { body })), { changes: ["barred"], words: "Barred on every way in." });
  const options = Object.entries(whys).filter(([key]) => kind === "domain" || key === "do_not_contact");
  return (
    <Adding form={form} words="Bar" onAdd={bar} isReady={!!value.trim()}>
      <TextBox label={kind === "domain" ? "Web domain" : "Email address, or telephone number with country code"} {...form.bind("value")} />
      <ChoiceBox label="Who" {...form.bind("kind")} options={kinds} onChange={(k) => form.set(k === "person" ? { kind: k, why: "do_not_contact" } : { kind: k })} />
      <ChoiceBox label="Why" {...form.bind("why")} options={options.map(([key, label]) => ({ key, label }))} />
    </Adding>
  );
}
