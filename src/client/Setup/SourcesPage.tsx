import { useState } from "react";
import { Link } from "react-router";
import { api, must, type Schema } from "../api/client";
import { useAct } from "../common/acting";
import { useForm } from "../common/form";
import { Cap } from "../parts/Bench";
import { DataTable, FadedRow } from "../parts/DataTable";
import { ChoiceBox, TextBox } from "../parts/Field";
import { whole } from "../parts/format";
import { KeptActs, MergeBox, type Run } from "./KeptActs";
import { Merges } from "./Merges";
import { Adding, SetupPage } from "./SetupPage";
import { SourceForm } from "./SourceForm";
import { kindsOf, sourceActs, trusts, useSources } from "./sources";

const channels = [
  { key: "list", label: "a list" },
  { key: "mail", label: "mail" },
  { key: "phone", label: "telephone" },
  { key: "http", label: "HTTP" },
];
const named: Record<string, string> = { form: "form", list: "list", mail: "mail", phone: "telephone", http: "HTTP" };
const none = "–";

type View = Schema["SourcesView"];
type Source = Schema["ManagedSource"];

const head = ["Source", "Comes by", "Counts as", "Campaign", { label: "Leads", isNumber: true }, { label: "Stands for it", width: 190 }, { label: "Acts", isUnseen: true }];

/** Where leads may come from. Each arrival names one; a list of sources kept short keeps the numbers honest. */
export function SourcesPage() {
  const view = useSources();
  return (
    <SetupPage title="Sources" intro="Every lead comes from one of these. A retired one is offered no more; what came from it keeps it." query={view}>
      {(data) => <SourceList view={data} />}
    </SetupPage>
  );
}

/** The sources, put in order. */
export function SourceList({ view }: { view: View }) {
  return (
    <>
      <Add view={view} />
      <Merges merges={view.merges} onUndo={sourceActs.undo} />
      <List view={view} />
    </>
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

function List({ view }: { view: View }) {
  const [changing, setChanging] = useState<Source>();
  return (
    <>
      <DataTable label="Sources" head={head} hasButtons>
        {view.sources.map((s, i) => (
          <Line key={s.key} source={s} view={view} at={i} onChange={() => setChanging(s)} />
        ))}
      </DataTable>
      {changing && <SourceForm key={changing.key} source={changing} view={view} onClose={() => setChanging(undefined)} />}
    </>
  );
}

type LineProps = { source: Source; view: View; at: number; onChange: () => void };

function Line({ source: s, view, at, onChange }: LineProps) {
  const act = useAct();
  const run: Run = (work, words, back) => void act.run(work, { changes: ["setup"], words, back });
  const others = view.sources.filter((o) => o.key !== s.key && !o.retired && o.channel === s.channel).map((o) => ({ key: o.key, label: o.name }));
  return (
    <FadedRow $faded={s.retired}>
      <td>
        {s.form ? <Link to={`/intake/forms/${s.form}`}>{s.name}</Link> : s.name}
        {s.retired && <Cap>retired</Cap>}
        {s.trust !== 0 && <Cap>trusted {trusts.find((t) => t.key === String(s.trust))?.label}</Cap>}
      </td>
      <td>{named[s.channel] ?? s.channel}</td>
      <td>{kindsOf(view, s).find((k) => k.key === s.eventKind)?.label}</td>
      <td>{view.campaigns.find((c) => c.key === s.campaign)?.label ?? none}</td>
      <td className="n">{whole(s.leads)}</td>
      <td>{s.form ? <Cap>comes with its form</Cap> : others.length > 0 && <MergeBox kind="source" name={s.name} options={others} run={run} onMerge={(into) => sourceActs.merge(s.key, into)} />}</td>
      <td>
        <KeptActs
          name={s.name}
          order={view.sources.map((x) => x.key)}
          at={at}
          isRetired={s.retired}
          keeper="What came from it"
          run={run}
          isBusy={act.busy}
          onChange={onChange}
          onOrder={sourceActs.order}
          onRetire={(retired) => sourceActs.change(s, { retired })}
        />
      </td>
    </FadedRow>
  );
}
