import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, must, type Schema } from "../api/client";
import { Cluster, Table } from "../parts/Bench";
import { useUndoable } from "../common/acting";
import { Button } from "../parts/Button";
import { ChoiceBox } from "../parts/Field";
import { count, points } from "../parts/format";
import { tell, tellError } from "../parts/Toast";
import { SetupPage } from "./SetupPage";
import { keys } from "../common/keys";

type Odds = Schema["OddsView"];
type Rule = Schema["MergeRule"];

const acts = {
  learn: () => must(api.POST("/api/matching/learn")),
  publish: () => must(api.POST("/api/matching/publish")),
  back: () => must(api.POST("/api/matching/back")),
};

/** What each piece of evidence weighs when records are matched; learnt from our own leads, looked at, published, and back. */
export function MatchingPage() {
  const queries = useQueryClient();
  const odds = useQuery({ queryKey: keys.odds, queryFn: () => must(api.GET("/api/matching")) });
  const [busy, setBusy] = useState(false);
  const run = async (act: () => Promise<Odds>, told: string, undo?: () => Promise<Odds>) => {
    setBusy(true);
    try {
      queries.setQueryData(keys.odds, await act());
      tell(told, undo && (() => run(undo, "As it was before.")));
    } catch (e) {
      tellError(e);
    } finally {
      setBusy(false);
      void queries.invalidateQueries({ queryKey: keys.duplicates });
    }
  };
  return (
    <SetupPage title="How records are matched" intro="Each respect in which two records agree or differ weighs so many bits; one bit doubles the odds that they are one." query={odds}>
      {(now) => (
        <>
          <p>
            From {now.ask.toFixed(1)} bits a person is asked, from {now.link.toFixed(1)} two records are linked by themselves; the more records there are, the more is asked. Pairs that wait are under <Link to="/leads/duplicates">Duplicates</Link>.
          </p>
          <Cluster style={{ margin: "12px 0 14px" }}>
            <Button look={now.draft ? "plain" : "main"} isDisabled={busy} onPress={() => void run(acts.learn, "Learnt; look at the draft before it is published.")}>
              Learn from our leads
            </Button>
            {now.draft && (
              <Button look="main" isDisabled={busy} onPress={() => void run(acts.publish, `Edition ${now.draft} is live.`, acts.back)}>
                Publish edition {now.draft}
              </Button>
            )}
            {now.edition > 0 && (
              <Button look="quiet" isDisabled={busy} onPress={() => void run(acts.back, "The edition before is live again.")}>
                Back to the edition before
              </Button>
            )}
          </Cluster>
          <p style={{ color: "var(--soft)", fontSize: 13, marginBottom: 10 }} role="status">
            {now.edition > 0 ? `Edition ${now.edition} is live.` : "The odds are as shipped."}
            {now.draft && ` Edition ${now.draft} was learnt from ${count(now.pairs, "pair")} that share a key, and is not live; what it would weigh by two bits otherwise stands out. Few true pairs teach badly: look at each before you publish.`}
          </p>
          <Weights odds={now} />
          <Rules />
        </>
      )}
    </SetupPage>
  );
}

function Weights({ odds }: { odds: Odds }) {
  const drafted = odds.draft != null;
  return (
    <Table style={{ maxWidth: 760 }}>
      <thead>
        <tr>
          <th scope="col">Respect</th>
          <th scope="col">When</th>
          <th scope="col" className="n">
            Live, bits
          </th>
          <th scope="col" className="n">
            Shipped
          </th>
          {drafted && (
            <th scope="col" className="n">
              Draft
            </th>
          )}
        </tr>
      </thead>
      <tbody>
        {odds.comparisons.flatMap((c) =>
          c.levels.map((l, i) => (
            <tr key={`${c.key} ${l.key}`}>
              <td>{i === 0 && <b>{c.label}</b>}</td>
              <td>{l.words}</td>
              <td className="n">{points(l.live, 1)}</td>
              <td className="n">{points(l.shipped, 1)}</td>
              {drafted && <td className="n">{l.draft == null ? "" : <span style={Math.abs(l.draft - l.live) >= 2 ? { color: "var(--lamp-ink)", fontWeight: 640 } : undefined}>{points(l.draft, 1)}</span>}</td>}
            </tr>
          )),
        )}
      </tbody>
    </Table>
  );
}

const rules = [
  { key: "trusted", label: "the source trusted more" },
  { key: "fullest", label: "the fuller one" },
  { key: "newest", label: "the newer one" },
];

/** What decides between two values of a field when two records become one. */
function Rules() {
  const all = useQuery({ queryKey: keys.mergeRules, queryFn: () => must(api.GET("/api/merge-rules")) });
  const run = useUndoable();
  const keep = (field: string, label: string, rule: Rule) => must(api.PUT("/api/merge-rules/{field}", { params: { path: { field } }, body: { field, label, rule } }));
  return (
    <section aria-label="Which value is proposed" style={{ maxWidth: 760, marginTop: 26 }}>
      <h2>Which value is proposed</h2>
      <p style={{ margin: "4px 0 10px", fontSize: 14 }}>
        When two records become one: what is known before what is not, what one of us wrote before what came in, and a directory last. After that, field by field; how far each source is trusted is said under <Link to="/setup/sources">Sources</Link>.
      </p>
      <Table $middle>
        <thead>
          <tr>
            <th scope="col">Field</th>
            <th scope="col" style={{ width: 260 }}>
              Decides first
            </th>
          </tr>
        </thead>
        <tbody>
          {all.data?.map((f) => (
            <tr key={f.field}>
              <td>{f.label}</td>
              <td>
                <ChoiceBox hideLabel label={`What decides for ${f.label}`} value={f.rule} options={rules} onChange={(r) => void run(() => keep(f.field, f.label, r as Rule), `${f.label}: ${rules.find((x) => x.key === r)!.label} first.`, () => keep(f.field, f.label, f.rule))} />
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
    </section>
  );
}
