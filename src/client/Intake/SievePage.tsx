import { useState } from "react";
import { useParams } from "react-router";
import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { Bench, Head, Inner, Notice, Pane } from "../parts/Bench";
import { Button } from "../parts/Button";
import { ChoiceBox } from "../parts/Field";
import { whole } from "../parts/format";
import { Skeleton, ErrorNote } from "../parts/States";
import { tellError } from "../parts/Toast";
import { WhyPane } from "../parts/WhyPane";
import { useMay, useRefresh } from "../common/session";
import { Acts } from "./Acts";
import { Alike } from "./Alike";
import { Matching } from "./Matching";
import { takeable } from "./OutcomeBar";
import { Progress } from "./Progress";
import { Doubt, Reading, readingWords } from "./Reading";
import { SiftedRows } from "./SiftedRows";
import { Terms } from "./Terms";
import { useImport, type Change } from "./queries";

const Said = styled.p`
  font-size: 15px;
  margin-bottom: 14px;
`;

const Whence = styled.div`
  max-width: 320px;
  margin-top: 8px;
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
  if (sieve.isPending) return <Skeleton />;
  if (sieve.isError) return <ErrorNote error={sieve.error} />;
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

function Opened({ sieve }: { sieve: Schema["SieveView"] }) {
  const { import: imported } = sieve;
  const { counts } = imported;
  const [outcome, setOutcome] = useState<string | null>(counts.mend > 0 ? "mend" : null);
  const [reading, setReading] = useState(false);
  const [busy, setBusy] = useState(false);
  const [unkept, setUnkept] = useState<string>();
  const refresh = useRefresh();
  const may = useMay("runIntake");
  const open = imported.state === "sifted" || imported.state === "taken_back";
  const change: Change = (send) => {
    setBusy(true);
    void send()
      .catch(tellError)
      .finally(() => void refresh().finally(() => setBusy(false)));
  };
  return (
    <Bench>
      <Pane $sheet>
        <Inner>
          <Head>
            <div>
              <h1>{imported.fileName}</h1>
              <p>
                {readingWords(sieve.reading)}. Dropped by {imported.by}.{" "}
                {may && open && !reading && (
                  <Button look="quiet" onPress={() => setReading(true)}>
                    Read it otherwise
                  </Button>
                )}
              </p>
            </div>
            <Acts imported={imported} unkept={unkept} />
          </Head>
          {reading && <Reading sieve={sieve} onDone={() => setReading(false)} />}
          {may && open && sieve.reading.doubt && <Doubt sieve={sieve} change={change} busy={busy} />}
          {may && open && imported.source === "" && (
            <Notice>
              <b>Where does this list come from?</b> Its name does not say, and what it counts as follows from it.
              <Whence>
                <ChoiceBox
                  hideLabel
                  label="Where this list comes from"
                  value={null}
                  placeholder="choose before you take it in"
                  options={sieve.choices.sources.map((s) => ({ key: s.key, label: s.countsAs ? `${s.label}: ${s.countsAs}` : s.label }))}
                  isDisabled={busy}
                  onChange={(source) => change(() => must(api.PUT("/api/imports/{id}/terms", { params: { path: { id: imported.id } }, body: { source, constants: sieve.constants, policies: sieve.policies } })))}
                />
              </Whence>
            </Notice>
          )}
          {sieve.sameFileAs && open && (
            <Notice>
              <b>The same file was taken in before:</b> {sieve.sameFileAs}. Taking it in again would make no lead twice.
            </Notice>
          )}
          {imported.trouble && (
            <Notice role="alert">
              <b>The work stopped.</b> {imported.trouble}
            </Notice>
          )}
          <Progress imported={imported} />
          <Said>
            <b>{whole(counts.read)} rows read</b>: {whole(takeable(counts))} {imported.state === "taken" ? "came" : "can come"} in, {whole(counts.mend)} wait to be mended, {whole(counts.barred)} are barred. {after[imported.state]}
          </Said>
          <SiftedRows
            imported={imported}
            outcome={outcome}
            onOutcome={setOutcome}
            before={may && (imported.state === "sifted" || imported.state === "taken") ? <Alike imported={imported} /> : null}
          />
        </Inner>
      </Pane>
      <WhyPane title="How it is taken">
        <Part open>
          <summary>Columns</summary>
          <Matching sieve={sieve} fixed={!may || !open || busy} change={change} />
        </Part>
        <Part open={imported.source === "" || undefined}>
          <summary>For all rows</summary>
          <Terms sieve={sieve} fixed={!may || !open || busy} change={change} onOpen={setUnkept} />
        </Part>
      </WhyPane>
    </Bench>
  );
}
