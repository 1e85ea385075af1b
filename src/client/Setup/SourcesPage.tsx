import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, must, type Schema } from "../api/client";
import { useAct } from "../common/acting";
import { useForm } from "../common/form";
import { keys } from "../common/keys";
import { Cap } from "../parts/Bench";
import { Button } from "../parts/Button";
import { DataTable, FadedRow } from "../parts/DataTable";
import { ChoiceBox, TextBox } from "../parts/Field";
import { whole } from "../parts/format";
import { Adding, SetupPage } from "./SetupPage";

const channels = [
  { key: "list", label: "a list" },
  { key: "mail", label: "mail" },
  { key: "phone", label: "telephone" },
  { key: "http", label: "HTTP" },
];
const trusts = [
  { key: "1", label: "more than others" },
  { key: "0", label: "as others" },
  { key: "-1", label: "less than others" },
];
const named: Record<string, string> = { form: "form", list: "list", mail: "mail", phone: "telephone", http: "HTTP" };
const none = "–";

type View = Schema["SourcesView"];
type Source = Schema["ManagedSource"];

const head = ["Source", "Comes by", { label: "Counts as", width: 230 }, { label: "Campaign", width: 220 }, { label: "Trusted", width: 170 }, { label: "Leads", isNumber: true }, { label: "Acts", isUnseen: true }];

/** Where leads may come from. Each arrival names one; a list of sources kept short keeps the numbers honest. */
export function SourcesPage() {
  const view = useQuery({ queryKey: keys.sources, queryFn: () => must(api.GET("/api/sources")) });
  return (
    <SetupPage title="Sources" intro="Every lead comes from one of these. A retired one is offered no more; what came from it keeps it." query={view}>
      {(data) => (
        <>
          <Add view={data} />
          <DataTable label="Sources" head={head} hasButtons>
            {data.sources.map((s) => (
              <Row key={s.key} source={s} view={data} />
            ))}
          </DataTable>
        </>
      )}
    </SetupPage>
  );
}

function Add({ view }: { view: View }) {
  const form = useForm({ called: "the new source", name: "new-source", initial: { name: "", channel: "list", eventKind: "" } });
  const add = () => form.send((body) => must(api.POST("/api/sources", { body: { ...body, campaign: null } })), { changes: ["setup"], words: `${form.values.name.trim()} is there.` });
  return (
    <Adding form={form} words="Add" onAdd={add} isReady={!!form.values.name.trim()}>
      <TextBox label="A new source" {...form.bind("name")} />
      <ChoiceBox label="Comes by" {...form.bind("channel")} options={channels} />
      <ChoiceBox label="Counts as" {...form.bind("eventKind")} value={form.values.eventKind || null} options={view.eventKinds} />
    </Adding>
  );
}

function Row({ source: s, view }: { source: Source; view: View }) {
  const act = useAct();
  const body = { name: s.name, eventKind: s.eventKind, campaign: s.campaign, retired: s.retired, trust: s.trust };
  const put = (b: Schema["SourceChange"]) => must(api.PUT("/api/sources/{key}", { params: { path: { key: s.key } }, body: b }));
  const change = (more: Partial<Schema["SourceChange"]>, words: string) => void act.run(() => put({ ...body, ...more }), { changes: ["setup"], words, back: () => put(body) });
  const kinds = view.eventKinds.some((k) => k.key === s.eventKind) ? view.eventKinds : [{ key: s.eventKind, label: "A form not in the scoring model" }, ...view.eventKinds];
  return (
    <FadedRow $faded={s.retired}>
      <td>
        {s.form ? <Link to={`/intake/forms/${s.form}`}>{s.name}</Link> : s.name}
        {s.retired && <Cap>retired</Cap>}
      </td>
      <td>{named[s.channel] ?? s.channel}</td>
      <td>
        <ChoiceBox hideLabel label={`What ${s.name} counts as`} value={s.eventKind} options={kinds} onChange={(eventKind) => change({ eventKind }, "It counts so from the next arrival on.")} />
      </td>
      <td>
        <ChoiceBox hideLabel label={`Campaign of ${s.name}`} value={s.campaign ?? none} options={[{ key: none, label: "none" }, ...view.campaigns]} onChange={(c) => change({ campaign: c === none ? null : c }, "From the next arrival on.")} />
      </td>
      <td>
        <ChoiceBox hideLabel label={`How far ${s.name} is trusted`} value={String(s.trust)} options={trusts} onChange={(t) => change({ trust: Number(t) }, "Kept for the next merge.")} />
      </td>
      <td className="n">{whole(s.leads)}</td>
      <td>
        <Button look="quiet" onPress={() => change({ retired: !s.retired }, s.retired ? "Offered again." : "Retired.")}>
          {s.retired ? "Bring back" : "Retire"}
        </Button>
      </td>
    </FadedRow>
  );
}
