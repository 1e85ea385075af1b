import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Form } from "react-aria-components";
import styled from "styled-components";
import { api, must, type Schema, type ApiError } from "../api/client";
import { Cap, Table } from "../parts/Bench";
import { Button } from "../parts/Button";
import { ChoiceBox, TextBox } from "../parts/Field";
import { moment } from "../parts/format";
import { Empty } from "../parts/States";
import { Ticks } from "../parts/Ticks";
import { tell, tellError } from "../parts/Toast";
import { useRefresh, useSession } from "../common/session";
import { SetupPage } from "./SetupPage";
import { keys } from "../common/keys";

const Make = styled(Form)`
  display: grid;
  grid-template-columns: 1fr 1fr auto;
  gap: 10px 16px;
  align-items: end;
  max-width: 760px;
  margin-bottom: 26px;
  .wide {
    grid-column: 1 / -1;
  }
`;

const Once = styled.div`
  border-left: 3px solid var(--lamp);
  padding: 8px 14px;
  margin-bottom: 24px;
  background: var(--sheet);
  code {
    display: block;
    margin: 6px 0 8px;
    overflow-wrap: anywhere;
    font: 13px/1.5 "DejaVu Sans Mono", monospace;
  }
`;

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
];

const examples = (address: string) => `curl ${address}/api/v1/leads \\
  -H "Authorization: Bearer lantern_…" -H "Idempotency-Key: order-4711" \\
  -H "Content-Type: application/json" \\
  -d '{"facts": {"first_name": "Liv", "last_name": "Aune", "email": "liv@aune.example", "country": "Norway"}}'

curl ${address}/api/v1/events \\
  -H "Authorization: Bearer lantern_…" -H "Content-Type: application/json" \\
  -d '{"kind": "page.viewed", "email": "liv@aune.example", "detail": "/buoys"}'

curl ${address}/api/v1/batch \\
  -H "Authorization: Bearer lantern_…" -H "Content-Type: application/json" \\
  -d '{"items": [{"lead": {"facts": {…}}}, {"event": {…}}]}'`;

/** Access for other systems: made here, shown once, revoked at once. */
export function TokensPage() {
  const tokens = useQuery({ queryKey: keys.tokens, queryFn: () => must(api.GET("/api/tokens")) });
  const [made, setMade] = useState<Schema["TokenMade"]>();
  return (
    <SetupPage title="Access for other systems" intro="A website, a shop or an event tool sends persons and what they did over HTTP, with a token in place of a sign-in." query={tokens}>
      {(data) => (
        <>
          <NewToken onMade={setMade} />
          {made && (
            <Once role="status">
              <strong>The token for {made.view.name}.</strong> It is shown this once; only a mark of it is kept.
              <code>{made.token}</code>
              <Button onPress={() => navigator.clipboard.writeText(made.token).then(() => tell("Copied."), tellError)}>Copy</Button>
            </Once>
          )}
          {data.length === 0 ? <Empty>No other system has access yet.</Empty> : <List tokens={data} />}
          <h2 style={{ margin: "30px 0 8px" }}>How to send</h2>
          <Example tabIndex={0}>{examples(location.origin)}</Example>
          <Cap style={{ marginTop: 8 }}>What is answered with 2xx is kept. The same Idempotency-Key again keeps nothing twice. At most 600 calls a minute; a batch of up to 1,000 is one call.</Cap>
        </>
      )}
    </SetupPage>
  );
}

function NewToken({ onMade }: { onMade: (made: Schema["TokenMade"]) => void }) {
  const fields = useQuery({ queryKey: keys.intake, queryFn: () => must(api.GET("/api/intake")) });
  const sources = (fields.data?.sources ?? []).filter((s) => s.channel === "http").map((s) => ({ key: s.key, label: s.name }));
  const [name, setName] = useState("");
  const [source, setSource] = useState<string | null>(null);
  const [may, setMay] = useState(scopes.map((s) => s.key));
  const [trouble, setTrouble] = useState<ApiError>();
  const refresh = useRefresh();
  const make = async () => {
    try {
      onMade(await must(api.POST("/api/tokens", { body: { name, source: source ?? sources[0]?.key ?? "", scopes: may } })));
      setName("");
      setTrouble(undefined);
      await refresh();
    } catch (e) {
      setTrouble(e as ApiError);
    }
  };
  const said = (field: string) => (trouble?.field === field ? trouble.message : undefined);
  return (
    <Make
      onSubmit={(e) => {
        e.preventDefault();
        void make();
      }}
    >
      <TextBox label="For which system" value={name} onChange={setName} error={said("name")} />
      <ChoiceBox label="Its persons come from" value={source ?? sources[0]?.key ?? null} options={sources} onChange={setSource} error={said("source")} />
      <Button look="main" type="submit">
        Make a token
      </Button>
      <Ticks className="wide" label="What it may do" options={scopes} value={may} onChange={setMay} error={said("scopes")} />
    </Make>
  );
}

function List({ tokens }: { tokens: Schema["TokenView"][] }) {
  const { timeZone } = useSession();
  const refresh = useRefresh();
  const revoke = (id: string) => must(api.DELETE("/api/tokens/{id}", { params: { path: { id } } })).then(() => (tell("Revoked. Nothing more comes in by it."), refresh()), tellError);
  return (
    <Table $middle>
      <thead>
        <tr>
          <th>System</th>
          <th>Source</th>
          <th>May</th>
          <th>Ends in</th>
          <th>Last used</th>
          <th />
        </tr>
      </thead>
      <tbody>
        {tokens.map((t) => (
          <tr key={t.id} style={t.revokedAt ? { color: "var(--soft)" } : undefined}>
            <td>{t.name}</td>
            <td>{t.sourceName}</td>
            <td>
              {scopes
                .filter((s) => t.scopes.split(" ").includes(s.key))
                .map((s) => s.label)
                .join(", ")}
            </td>
            <td>…{t.ending}</td>
            <td>{t.usedAt ? moment(t.usedAt, timeZone) : "never"}</td>
            <td>{t.revokedAt ? `revoked ${moment(t.revokedAt, timeZone)}` : <Button look="quiet" onPress={() => void revoke(t.id)}>Revoke</Button>}</td>
          </tr>
        ))}
      </tbody>
    </Table>
  );
}
