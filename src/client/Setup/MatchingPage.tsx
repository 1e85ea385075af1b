import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Link } from "react-router";
import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { useAct } from "../common/acting";
import { keys } from "../common/keys";
import { Button } from "../parts/Button";
import { DataTable } from "../parts/DataTable";
import { count, points } from "../parts/format";
import { Row } from "../parts/Layout";
import { Hint } from "../parts/Words";
import { MergeRules } from "./MergeRules";
import { SetupPage } from "./SetupPage";

type Odds = Schema["OddsView"];

const acts = {
  learn: () => must(api.POST("/api/matching/learn")),
  publish: () => must(api.POST("/api/matching/publish")),
  back: () => must(api.POST("/api/matching/back")),
};

const Other = styled.span<{ $much: boolean }>`
  ${(p) => p.$much && "color: var(--lamp-ink); font-weight: 640;"}
`;

/** What each piece of evidence weighs when records are matched; learnt from our own leads, looked at, published, and back. */
export function MatchingPage() {
  const odds = useQuery({ queryKey: keys.odds, queryFn: () => must(api.GET("/api/matching")) });
  return (
    <SetupPage title="How records are matched" intro="Each respect in which two records agree or differ weighs so many bits; one bit doubles the odds that they are one." query={odds}>
      {(now) => (
        <>
          <p>
            From {now.ask.toFixed(1)} bits a person is asked, from {now.link.toFixed(1)} two records are linked by themselves; the more records there are, the more is asked. Pairs that wait are under <Link to="/leads/duplicates">Duplicates</Link>.
          </p>
          <Editions now={now} />
          <Weights odds={now} />
          <MergeRules />
        </>
      )}
    </SetupPage>
  );
}

function Editions({ now }: { now: Odds }) {
  const queries = useQueryClient();
  const act = useAct();
  const show = (odds: Odds) => queries.setQueryData(keys.odds, odds);
  const run = (work: () => Promise<Odds>, words: string, back?: () => Promise<Odds>) => void act.run(() => work().then(show), { changes: ["duplicates"], words, back: back && (() => back().then(show)) });
  return (
    <>
      <Row $above={3} $below={3}>
        <Button look={now.draft ? "plain" : "main"} isPending={act.busy} onPress={() => run(acts.learn, "Learnt; look at the draft before it is published.")}>
          Learn from our leads
        </Button>
        {now.draft && (
          <Button look="main" isPending={act.busy} onPress={() => run(acts.publish, `Edition ${now.draft} is live.`, acts.back)}>
            Publish edition {now.draft}
          </Button>
        )}
        {now.edition > 0 && (
          <Button look="quiet" isPending={act.busy} onPress={() => run(acts.back, "The edition before is live again.")}>
            Back to the edition before
          </Button>
        )}
      </Row>
      <Hint role="status" $below={3}>
        {now.edition > 0 ? `Edition ${now.edition} is live.` : "The odds are as shipped."}
        {now.draft && ` Edition ${now.draft} was learnt from ${count(now.pairs, "pair")} that share a key, and is not live; what it would weigh by two bits otherwise stands out. Few true pairs teach badly: look at each before you publish.`}
      </Hint>
    </>
  );
}

const numeric = (label: string) => ({ label, isNumber: true });

function Weights({ odds }: { odds: Odds }) {
  const drafted = odds.draft != null;
  return (
    <DataTable label="What evidence weighs" width={760} head={["Respect", "When", numeric("Live, bits"), numeric("Shipped"), ...(drafted ? [numeric("Draft")] : [])]}>
      {odds.comparisons.flatMap((c) =>
        c.levels.map((l, i) => (
          <tr key={`${c.key} ${l.key}`}>
            <td>{i === 0 && <b>{c.label}</b>}</td>
            <td>{l.words}</td>
            <td className="n">{points(l.live, 1)}</td>
            <td className="n">{points(l.shipped, 1)}</td>
            {drafted && <td className="n">{l.draft != null && <Other $much={Math.abs(l.draft - l.live) >= 2}>{points(l.draft, 1)}</Other>}</td>}
          </tr>
        )),
      )}
    </DataTable>
  );
}
