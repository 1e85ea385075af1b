import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, must, type Schema, type ApiError } from "../api/client";
import { Cap, Table } from "../parts/Bench";
import { Button } from "../parts/Button";
import { ChoiceBox, TextBox } from "../parts/Field";
import { whole } from "../parts/format";
import { tell, tellError } from "../parts/Toast";
import { useRefresh } from "../common/session";
import { Adding, SetupPage } from "./SetupPage";
import { keys } from "../common/keys";

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

/** Where leads may come from. Each arrival names one; a list of sources kept short keeps the numbers honest. */
export function SourcesPage() {
  const view = useQuery({ queryKey: keys.sources, queryFn: () => must(api.GET("/api/sources")) });
  return (
    <SetupPage title="Sources" intro="Every lead comes from one of these. A retired one is offered no more; what came from it keeps it." query={view}>
      {(data) => (
        <>
          <Add view={data} />
          <List view={data} />
        </>
      )}
    </SetupPage>
  );
}

function Add({ view }: { view: Schema["SourcesView"] }) {
  const [name, setName] = useState("");
  const [channel, setChannel] = useState("list");
  const [kind, setKind] = useState<string | null>(null);
  const [trouble, setTrouble] = useState<ApiError>();
  const refresh = useRefresh();
  const add = async () => {
    try {
      await must(api.POST("/api/sources", { body: { name, channel, eventKind: kind ?? "", campaign: null } }));
      setName("");
      setTrouble(undefined);
      await refresh();
    } catch (e) {
      setTrouble(e as ApiError);
    }
  };
  return (
    <Adding onAdd={add}>
      <TextBox label="A new source" value={name} onChange={setName} error={trouble && trouble.field !== "eventKind" ? trouble.message : undefined} />
      <ChoiceBox label="Comes by" value={channel} options={channels} onChange={setChannel} />
      <ChoiceBox label="Counts as" value={kind} options={view.eventKinds} onChange={setKind} error={trouble?.field === "eventKind" ? trouble.message : undefined} />
      <Button look="main" type="submit" isDisabled={!name.trim()}>
        Add
      </Button>
    </Adding>
  );
}

function List({ view }: { view: Schema["SourcesView"] }) {
  const refresh = useRefresh();
  const change = (s: Schema["ManagedSource"], more: Partial<Schema["SourceChange"]>, said: string) => {
    const body = { name: s.name, eventKind: s.eventKind, campaign: s.campaign, retired: s.retired, trust: s.trust };
    const put = (b: Schema["SourceChange"]) => must(api.PUT("/api/sources/{key}", { params: { path: { key: s.key } }, body: b }));
    void put({ ...body, ...more }).then(() => (tell(said, () => put(body).then(refresh)), refresh()), tellError);
  };
  return (
    <Table $middle>
      <thead>
        <tr>
          <th>Source</th>
          <th>Comes by</th>
          <th style={{ width: 230 }}>Counts as</th>
          <th style={{ width: 220 }}>Campaign</th>
          <th style={{ width: 170 }}>Trusted</th>
          <th className="n">Leads</th>
          <th />
        </tr>
      </thead>
      <tbody>
        {view.sources.map((s) => (
          <tr key={s.key} style={s.retired ? { color: "var(--soft)" } : undefined}>
            <td>
              {s.form ? <Link to={`/intake/forms/${s.form}`}>{s.name}</Link> : s.name}
              {s.retired && <Cap>retired</Cap>}
            </td>
            <td>{named[s.channel] ?? s.channel}</td>
            <td>
              <ChoiceBox
                hideLabel
                label={`What ${s.name} counts as`}
                value={s.eventKind}
                options={view.eventKinds.some((k) => k.key === s.eventKind) ? view.eventKinds : [{ key: s.eventKind, label: "A form not in the scoring model" }, ...view.eventKinds]}
                onChange={(eventKind) => change(s, { eventKind }, "It counts so from the next arrival on.")}
              />
            </td>
            <td>
              <ChoiceBox
                hideLabel
                label={`Campaign of ${s.name}`}
                value={s.campaign ?? none}
                options={[{ key: none, label: "none" }, ...view.campaigns]}
                onChange={(c) => change(s, { campaign: c === none ? null : c }, "From the next arrival on.")}
              />
            </td>
            <td>
              <ChoiceBox hideLabel label={`How far ${s.name} is trusted`} value={String(s.trust)} options={trusts} onChange={(t) => change(s, { trust: Number(t) }, "Kept for the next merge.")} />
            </td>
            <td className="n">{whole(s.leads)}</td>
            <td>
              <Button look="quiet" onPress={() => change(s, { retired: !s.retired }, s.retired ? "Offered again." : "Retired.")}>
                {s.retired ? "Bring back" : "Retire"}
              </Button>
            </td>
          </tr>
        ))}
      </tbody>
    </Table>
  );
}
