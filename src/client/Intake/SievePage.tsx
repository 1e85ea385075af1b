import { useState } from "react";
import { useNavigate, useParams } from "react-router";
import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { Aside, Bench, Cluster, Head, Inner, Pane } from "../parts/Bench";
import { Button } from "../parts/Button";
import { count, whole } from "../parts/format";
import { Skeleton, Trouble } from "../parts/States";
import { tell, tellTrouble } from "../parts/Toast";
import { useMay, useRefresh } from "../Setup/session";
import { Matching } from "./Matching";
import { SiftedRows } from "./SiftedRows";
import { useDelivery } from "./queries";

const Said = styled.p`
  font-size: 15px;
  margin-bottom: 14px;
`;

const encodings: Record<string, string> = { "utf-8": "UTF-8", "windows-1252": "Windows-1252", "utf-16": "UTF-16", "iso-8859-1": "ISO 8859-1" };
const separators: Record<string, string> = { ",": "comma", ";": "semicolon", "\t": "tab", "|": "bar" };

/** A delivery opened: what was read, how each column is matched, what each row would become. */
export function SievePage() {
  const { id = "" } = useParams();
  const sieve = useDelivery(id);
  if (sieve.isPending) return <Skeleton />;
  if (sieve.isError) return <Trouble error={sieve.error} />;
  return <Opened key={id} sieve={sieve.data} />;
}

function Opened({ sieve }: { sieve: Schema["SieveView"] }) {
  const { delivery } = sieve;
  const [outcome, setOutcome] = useState<string | null>(delivery.counts.aside > 0 ? "aside" : null);
  return (
    <Bench>
      <Pane $sheet>
        <Inner>
          <Head>
            <div>
              <h1>{delivery.fileName}</h1>
              <p>
                {encodings[sieve.encoding] ?? sieve.encoding}, separated by {separators[sieve.separator] ?? sieve.separator}, headings in the first row. Dropped by {delivery.by}.
              </p>
            </div>
            <Acts delivery={delivery} />
          </Head>
          {sieve.sameFileAs && delivery.state === "sifted" && (
            <Aside style={{ marginBottom: 14 }}>
              <b>The same file was taken in before:</b> {sieve.sameFileAs}. Taking it in again would make no lead twice.
            </Aside>
          )}
          <Said>
            <b>{whole(delivery.counts.read)} read</b> = {whole(delivery.counts.new)} new + {whole(delivery.counts.adds)} added to known + {whole(delivery.counts.aside)} set aside.{" "}
            {delivery.state === "sifted" ? "Nothing is taken in yet." : delivery.state === "taken" ? "They are taken in." : "Everything was taken back; the rows are kept."}
          </Said>
          <SiftedRows delivery={delivery} outcome={outcome} onOutcome={setOutcome} />
        </Inner>
      </Pane>
      <Matching key={delivery.source} sieve={sieve} />
    </Bench>
  );
}

function Acts({ delivery }: { delivery: Schema["DeliveryView"] }) {
  const [busy, setBusy] = useState(false);
  const refresh = useRefresh();
  const navigate = useNavigate();
  const may = useMay("runIntake");
  const path = { params: { path: { id: delivery.id } } };

  const act = async (work: () => Promise<void>) => {
    setBusy(true);
    try {
      await work();
    } catch (e) {
      tellTrouble(e);
    } finally {
      await refresh();
      setBusy(false);
    }
  };
  const back = () =>
    act(async () => {
      const done = await must(api.POST("/api/deliveries/{id}/take-back", path));
      tell(`Taken back: ${count(done.removed, "lead")} removed, ${done.restored} restored${done.left ? `, ${done.left} left because people worked on them` : ""}.`);
    });
  const take = () =>
    act(async () => {
      const done = await must(api.POST("/api/deliveries/{id}/take-in", path));
      tell(`Taken in: ${whole(done.counts.new)} new, ${whole(done.counts.adds)} added to known, ${whole(done.counts.aside)} set aside.`, () => void back());
    });

  if (!may) return null;
  return (
    <Cluster>
      {delivery.state === "sifted" && (
        <Button look="main" isDisabled={busy || delivery.counts.new + delivery.counts.adds === 0} onPress={() => void take()}>
          {busy ? "Taking in …" : `Take ${whole(delivery.counts.new + delivery.counts.adds)} in`}
        </Button>
      )}
      {delivery.state === "taken" && (
        <>
          <Button isDisabled={busy} onPress={() => void navigate(`/leads?source=${delivery.source}`)}>
            See the leads
          </Button>
          <Button look="bad" isDisabled={busy} onPress={() => void back()}>
            Take back
          </Button>
        </>
      )}
    </Cluster>
  );
}
