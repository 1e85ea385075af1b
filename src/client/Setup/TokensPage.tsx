import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { useAct } from "../common/acting";
import { useForm } from "../common/form";
import { keys } from "../common/keys";
import { usePeople } from "../common/people";
import { useSession } from "../common/session";
import { Cap } from "../parts/Bench";
import { Button } from "../parts/Button";
import { DataTable, FadedRow } from "../parts/DataTable";
import { DayBox } from "../parts/DayBox";
import { ChoiceBox, TextBox } from "../parts/Field";
import { moment } from "../parts/format";
import { Columns } from "../parts/Layout";
import { ShownOnce } from "../parts/ShownOnce";
import { Empty } from "../parts/States";
import { Ticks } from "../parts/Ticks";
import { Hint, Title } from "../parts/Words";
import { Adding, SetupPage } from "./SetupPage";

const Example = styled.pre`
  font: 12px/1.5 "DejaVu Sans Mono", monospace;
  background: var(--sheet);
  border: 1px solid var(--hair);
  border-radius: 3px;
  padding: 12px 14px;
  overflow-x: auto;
`;

const scopes = [
  { key: "leads:write", label: "send and change persons" },
  { key: "events:write", label: "send what they did" },
  { key: "leads:read", label: "read leads" },
];

const examples = (address: string) => `curl ${address}/api/v1/leads \\
  -H "Authorization: Bearer lantern_…" -H "Idempotency-Key: order-4711" \\
  -H "Content-Type: application/json" \\
  -d '{"facts": {"first_name": "Liv", "last_name": "Aune", "email": "liv@aune.example", "country": "Norway"}}'

curl ${address}/api/v1/events \\
  -H "Authorization: Bearer lantern_…" -H "Content-Type: application/json" \\
  -d '{"kind": "page.viewed", "email": "liv@aune.example", "detail": "/prices"}'

curl "${address}/api/v1/leads?after=0&limit=500" \\
  -H "Authorization: Bearer lantern_…"

curl ${address}/api/v1/batch \\
  -H "Authorization: Bearer lantern_…" -H "Content-Type: application/json" \\
  -d '{"items": [{"lead": {"facts": {…}}}, {"event": {…}}]}'`;

type Made = Schema["TokenMade"];

/** Access for other systems: made here, shown once, revoked at once. */
export function TokensPage() {
  const tokens = useQuery({ queryKey: keys.tokens, queryFn: () => must(api.GET("/api/tokens")) });
  const [made, setMade] = useState<Made>();
  return (
    <SetupPage title="Access for other systems" intro="A website, a shop or an event tool sends persons and what they did over HTTP, or reads leads, with a token in place of a sign-in." query={tokens}>
      {(data) => (
        <>
          <NewToken onMade={setMade} />
          {made && <MadeNow made={made} />}
          {data.length === 0 ? <Empty>No other system has access yet.</Empty> : <List tokens={data} />}
          <Title $above={8} $below={2}>
            How to send
          </Title>
          <Hint $below={2}>
            Every operation, to be read and tried: <a href="/api/reference">the API</a>. The token opens its description, too.
          </Hint>
          <Example tabIndex={0} role="region" aria-label="Examples">
            {examples(location.origin)}
          </Example>
          <Cap>What is answered with 2xx is kept. The same Idempotency-Key again keeps nothing twice. At most 600 calls a minute; a batch of up to 1,000 is one call.</Cap>
        </>
      )}
    </SetupPage>
  );
}

function MadeNow({ made }: { made: Made }) {
  return (
    <ShownOnce secret={made.token}>
      <strong>The token for {made.view.name}.</strong> It is shown this once; only a mark of it is kept.
    </ShownOnce>
  );
}

function NewToken({ onMade }: { onMade: (made: Made) => void }) {
  const intake = useQuery({ queryKey: keys.intake, queryFn: () => must(api.GET("/api/intake")) });
  const sources = (intake.data?.sources ?? []).filter((s) => s.channel === "http").map((s) => ({ key: s.key, label: s.name }));
  const form = useForm({ called: "the new token", initial: { name: "", source: "", scopes: ["leads:write", "events:write"], readsAs: everything, lastDay: "" }, asks: false });
  const { scopes: may, readsAs, lastDay } = form.values;
  const [sends, reads] = [may.some((s) => s !== "leads:read"), may.includes("leads:read")];
  const source = sends ? form.values.source || (sources[0]?.key ?? "") : null;
  const make = () =>
    form.send(({ name, scopes: asked }) => must(api.POST("/api/tokens", { body: { name, scopes: asked, source, readsAs: reads && !sends && readsAs !== everything ? readsAs : null, lastDay: lastDay || null } })), { changes: ["tokens"], then: onMade });
  const more = (
    <div className="wide">
      <Ticks label="What it may do" options={scopes} {...form.bind("scopes")} />
      <Columns $of="minmax(0, 280px) minmax(0, 200px)" $above={3} $align="start">
        {reads && !sends && <ReadsAs {...form.bind("readsAs")} />}
        <DayBox label="Last day, if it ends" {...form.bind("lastDay")} />
      </Columns>
    </div>
  );
  return (
    <Adding form={form} words="Make a token" onAdd={make} columns={1} below={more}>
      <TextBox label="For which system" {...form.bind("name")} />
      {sends && <ChoiceBox label="Its persons come from" {...form.bind("source")} value={source || null} options={sources} />}
    </Adding>
  );
}

const everything = "-";

/** By whose rights a token reads: a machine reads everything. */
function ReadsAs(props: { value: string; onChange: (key: string) => void; error?: string }) {
  const me = useSession();
  const people = (usePeople().data ?? []).filter((p) => p.id !== me.id);
  const options = [{ key: everything, label: "everything" }, { key: me.id, label: "what you see" }, ...people.map((p) => ({ key: p.id, label: `what ${p.name} sees` }))];
  return <ChoiceBox label="Reads" {...props} options={options} />;
}

function List({ tokens }: { tokens: Schema["TokenView"][] }) {
  const { timeZone } = useSession();
  const act = useAct();
  const revoke = (id: string) => void act.run(() => must(api.DELETE("/api/tokens/{id}", { params: { path: { id } } })), { changes: ["tokens"], words: "Revoked. Nothing more comes in by it." });
  const isOver = (t: Schema["TokenView"]) => !!t.endsAt && new Date(t.endsAt) <= new Date();
  const mayOf = (t: Schema["TokenView"]) => scopes.filter((s) => t.scopes.split(" ").includes(s.key)).map((s) => s.label);
  return (
    <DataTable label="Tokens" head={["System", "Source", "May", "Key ends in", "Last used", "Until", { label: "Acts", isUnseen: true }]} hasButtons>
      {tokens.map((t) => (
        <FadedRow key={t.id} $faded={!!t.revokedAt || isOver(t)}>
          <td>{t.name}</td>
          <td>{t.sourceName}</td>
          <td>
            {mayOf(t).join(", ")}
            {t.readsAs && `, as ${t.readsAs} sees them`}
          </td>
          <td>…{t.ending}</td>
          <td>{t.usedAt ? moment(t.usedAt, timeZone) : "never"}</td>
          <td>{t.endsAt ? moment(t.endsAt, timeZone) : "no end"}</td>
          <td>
            {t.revokedAt ? (
              `revoked ${moment(t.revokedAt, timeZone)}`
            ) : (
              <Button look="quiet" onPress={() => revoke(t.id)}>
                Revoke
              </Button>
            )}
          </td>
        </FadedRow>
      ))}
    </DataTable>
  );
}
