import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, must, type Schema } from "../api/client";
import { Cap, Cluster } from "../parts/Bench";
import { Button } from "../parts/Button";
import { ChoiceBox } from "../parts/Field";
import { count, whole } from "../parts/format";
import { tell, tellError } from "../parts/Toast";
import { useMay, useRefresh } from "../common/session";
import { useAddresses } from "./queries";
import { keys } from "../common/keys";

const all = "–";

/** Whom one may write to: the file leaves out who did not agree, who is barred, and who has no address. */
export function Writing({ sheet }: { sheet: Schema["CampaignSheet"] }) {
  const key = sheet.campaign.key;
  const may = useMay("runIntake");
  const purposes = useQuery({ queryKey: keys.purposes, queryFn: () => must(api.GET("/api/consent-purposes")), staleTime: 60_000, enabled: may });
  const [purpose, setPurpose] = useState<string | null>(null);
  const [response, setResponse] = useState(all);
  const picked = response === all ? null : response;
  const addresses = useAddresses(key, purpose, picked);
  if (!may || !sheet.campaign.members) return null;
  const file = `/api/campaigns/${key}/addresses.csv?purpose=${purpose}${picked ? `&response=${picked}` : ""}`;
  return (
    <section aria-label="Writing to its members">
      <h2>Writing to its members</h2>
      <div style={{ display: "grid", gap: 10 }}>
        <ChoiceBox label="What the email is for" value={purpose} options={purposes.data ?? []} onChange={setPurpose} />
        <ChoiceBox label="To whom" value={response} options={[{ key: all, label: "all members" }, ...sheet.rates.map((r) => ({ key: r.response, label: `who is at “${r.label}”` }))]} onChange={setResponse} />
        {addresses.data && (
          <>
            <p role="status">
              <strong>{whole(addresses.data.may)}</strong> may be written to.{" "}
              <Cap as="span">
                Left out: {count(addresses.data.withoutConsent, "person", "people")} who did not agree to it, {whole(addresses.data.barred)} barred, {whole(addresses.data.withoutAddress)} without an address.
              </Cap>
            </p>
            {addresses.data.may > 0 && (
              <>
                <a href={file} download>
                  Download the {whole(addresses.data.may)} addresses (CSV)
                </a>
                {picked !== "sent" && <MarkSent campaign={key} of={picked ?? "any"} purpose={purpose!} many={addresses.data.may} />}
              </>
            )}
          </>
        )}
      </div>
    </section>
  );
}

/** Once it went out: the same people are marked, so that the next look leaves them out. */
function MarkSent({ campaign, of, purpose, many }: { campaign: string; of: string; purpose: string; many: number }) {
  const refresh = useRefresh();
  const undo = (entry: string) => must(api.DELETE("/api/campaigns/{key}/responses/{entry}", { params: { path: { key: campaign, entry } } })).then(refresh, tellError);
  const mark = () =>
    must(api.POST("/api/campaigns/{key}/responses", { params: { path: { key: campaign } }, body: { response: "sent", of, purpose } })).then(async (done) => {
      await refresh();
      if (!done.recorded) return tell("All of them were marked before.");
      tell(`${count(done.recorded, "person", "people")} marked as sent.`, () => undo(done.entry));
    }, tellError);
  return (
    <Cluster>
      <Button onPress={() => void mark()}>It went out: mark {whole(many)} as sent</Button>
    </Cluster>
  );
}
