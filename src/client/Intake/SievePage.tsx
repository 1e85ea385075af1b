import { useCallback, useState } from "react";
import { useParams } from "react-router";
import styled from "styled-components";
import type { Schema } from "../api/client";
import { useAct } from "../common/acting";
import { useMay } from "../common/session";
import { Bench, Head, Inner, Pane } from "../parts/Bench";
import { Button } from "../parts/Button";
import { whole } from "../parts/format";
import { ErrorNote, Skeleton } from "../parts/States";
import { WhyPane } from "../parts/WhyPane";
import { Acts } from "./Acts";
import { Alike } from "./Alike";
import { Matching } from "./Matching";
import { takeable } from "./OutcomeBar";
import { Progress } from "./Progress";
import { useImport, type Change } from "./queries";
import { Reading } from "./Reading";
import { readingWords } from "./reading";
import { SieveNotices } from "./SieveNotices";
import { SiftedRows } from "./SiftedRows";
import { Terms } from "./Terms";

const Said = styled.p`
  font-size: 15px;
  margin-bottom: 14px;
`;

const Part = styled.details`
  border-top: 1px solid var(--hair);
  padding: 8px 0;
  & > summary {
    cursor: pointer;
    font-weight: 640;
    padding: 4px 0;
    margin-bottom: 4px;
  }
`;

/** An import opened: what was read, how each column is matched, what each row would become. */
export function SievePage() {
  const { id = "" } = useParams();
  const sieve = useImport(id);
  if (!sieve.data) return <Bench>{sieve.isError ? <ErrorNote error={sieve.error} /> : <Skeleton />}</Bench>;
  return <Opened key={id} sieve={sieve.data} />;
}

const after: Record<string, string> = {
  sifting: "They are being sifted; nothing is taken in yet.",
  sifted: "Nothing is taken in yet.",
  taking: "They are being taken in.",
  taken: "",
  taking_back: "They are being taken back.",
  taken_back: "They were taken back; the rows are kept.",
};

export type Sieve = Schema["SieveView"];

function Opened({ sieve }: { sieve: Sieve }) {
  const { import: imported } = sieve;
  const [outcome, setOutcome] = useState<string | null>(imported.counts.mend > 0 ? "mend" : null);
  const [unkept, setUnkept] = useState<string>();
  const act = useAct();
  const may = useMay("runIntake");
  const open = imported.state === "sifted" || imported.state === "taken_back";
  const fixed = !may || !open || act.busy;
  const { run } = act;
  const change: Change = useCallback((send) => void run(send, { changes: ["import"] }), [run]);
  return (
    <Bench>
      <Pane $sheet aria-label={imported.fileName}>
        <Inner>
          <Top sieve={sieve} mayRead={may && open} unkept={unkept} />
          <SieveNotices sieve={sieve} mayChange={may && open} busy={act.busy} change={change} />
          <Progress imported={imported} />
          <Told imported={imported} />
          <SiftedRows imported={imported} outcome={outcome} onOutcome={setOutcome} before={may && (imported.state === "sifted" || imported.state === "taken") ? <Alike imported={imported} /> : null} />
        </Inner>
      </Pane>
      <WhyPane title="How it is taken">
        <Part open>
          <summary>Columns</summary>
          <Matching sieve={sieve} fixed={fixed} change={change} />
        </Part>
        <Part open={imported.source === "" || undefined}>
          <summary>For all rows</summary>
          <Terms sieve={sieve} fixed={fixed} change={change} onOpen={setUnkept} />
        </Part>
      </WhyPane>
    </Bench>
  );
}

function Top({ sieve, mayRead, unkept }: { sieve: Sieve; mayRead: boolean; unkept?: string }) {
  const { import: imported } = sieve;
  const [reading, setReading] = useState(false);
  return (
    <>
      <Head>
        <div>
          <h1>{imported.fileName}</h1>
          <p>
            {readingWords(sieve.reading)}. Dropped by {imported.by}.{" "}
            {mayRead && !reading && (
              <Button look="inline" onPress={() => setReading(true)}>
                Read it otherwise
              </Button>
            )}
          </p>
        </div>
        <Acts imported={imported} unkept={unkept} />
      </Head>
      {reading && <Reading sieve={sieve} onDone={() => setReading(false)} />}
    </>
  );
}

function Told({ imported }: { imported: Sieve["import"] }) {
  const { counts, state } = imported;
  return (
    <Said>
      <b>{whole(counts.read)} rows read</b>: {whole(takeable(counts))} {state === "taken" ? "came" : "can come"} in, {whole(counts.mend)} wait to be mended, {whole(counts.barred)} are barred. {after[state]}
    </Said>
  );
}
