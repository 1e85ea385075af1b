import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, must, type Schema } from "../api/client";
import { useAct } from "../common/acting";
import { keys } from "../common/keys";
import { useMay } from "../common/session";
import { Button } from "../parts/Button";
import { ChoiceBox } from "../parts/Field";
import { count, whole } from "../parts/format";
import { Stack } from "../parts/Layout";
import { Soft } from "../parts/Words";
import { useAddresses } from "./queries";

const all = "–";

type Sheet = Schema["CampaignSheet"];

/** The people one may write to: the file leaves out those who did not agree, who are barred, and who have no address. */
export function Writing({ sheet }: { sheet: Sheet }) {
  const may = useMay("runIntake");
  const purposes = useQuery({ queryKey: keys.purposes, queryFn: () => must(api.GET("/api/consent-purposes")), staleTime: 60_000, enabled: may });
  const [purpose, setPurpose] = useState<string | null>(null);
  const [response, setResponse] = useState(all);
  if (!may || !sheet.campaign.members) return null;
  return (
    <section aria-label="Writing to its members">
      <h2>Writing to its members</h2>
      <Stack>
        <ChoiceBox label="What the email is for" value={purpose} options={purposes.data ?? []} onChange={setPurpose} />
        <ChoiceBox label="To whom" value={response} options={[{ key: all, label: "all members" }, ...sheet.rates.map((r) => ({ key: r.response, label: `who is at “${r.label}”` }))]} onChange={setResponse} />
        {purpose && <Addresses campaign={sheet.campaign.key} purpose={purpose} response={response === all ? null : response} />}
      </Stack>
    </section>
  );
}

function Addresses({ campaign, purpose, response }: { campaign: string; purpose: string; response: string | null }) {
  const addresses = useAddresses(campaign, purpose, response).data;
  if (!addresses) return null;
  const file = `/api/campaigns/${campaign}/addresses.csv?purpose=${purpose}${response ? `&response=${response}` : ""}`;
  return (
    <>
      <p role="status">
        <strong>{whole(addresses.may)}</strong> may be written to.{" "}
        <Soft>
          Left out: {count(addresses.withoutConsent, "person", "people")} who did not agree to it, {whole(addresses.barred)} barred, {whole(addresses.withoutAddress)} without an address.
        </Soft>
      </p>
      {addresses.may > 0 && (
        <a href={file} download>
          Download the {whole(addresses.may)} addresses (CSV)
        </a>
      )}
      {addresses.may > 0 && response !== "sent" && <MarkSent campaign={campaign} of={response ?? "any"} purpose={purpose} many={addresses.may} />}
    </>
  );
}

/** Once it went out: the same people are marked, so that the next look leaves them out. */
function MarkSent({ campaign, of, purpose, many }: { campaign: string; of: string; purpose: string; many: number }) {
  const act = useAct();
  const undo = (entry: string) => must(api.DELETE("/api/campaigns/{key}/responses/{entry}", { params: { path: { key: campaign, entry } } }));
  const mark = () =>
    act.run(() => must(api.POST("/api/campaigns/{key}/responses", { params: { path: { key: campaign } }, body: { response: "sent", of, purpose } })), {
      changes: ["campaigns", "around"],
      words: (done) => (done.recorded ? `${count(done.recorded, "person", "people")} marked as sent.` : "All of them were marked before."),
      back: (done) => (done.recorded ? undo(done.entry) : Promise.resolve()),
    });
  return (
    <div>
      <Button isPending={act.busy} onPress={() => void mark()}>
        It went out: mark {whole(many)} as sent
      </Button>
    </div>
  );
}
