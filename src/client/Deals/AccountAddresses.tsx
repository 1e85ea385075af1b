import { useState } from "react";
import { api, must, type Schema } from "../api/client";
import { Button } from "../parts/Button";
import { ChoiceBox, TextBox } from "../parts/Field";
import { Fold } from "../parts/Fold";
import { countryName } from "../parts/format";
import { useActing, useSending } from "../common/acting";
import { useRefresh } from "../common/session";
import { Entry } from "./directory";

type Account = Schema["AccountSheet"];
type Write = Schema["AddressWrite"];

const kinds = [
  { key: "billing", label: "billing" },
  { key: "delivery", label: "delivery" },
  { key: "other", label: "other" },
];
const main = "00000000-0000-0000-0000-000000000000";

/** Where an account is, is billed, and is delivered to; one can be made like another. */
export function AccountAddresses({ account, may }: { account: Account; may: boolean }) {
  const [writing, setWriting] = useState<{ id?: string; body: Write }>();
  const act = useActing();
  const path = { id: account.id };
  const copy = (kind: string, from: string) => act(() => must(api.POST("/api/accounts/{id}/addresses/copy", { params: { path }, body: { kind, from: from === main ? null : from } })));
  return (
    <Fold title={`Addresses, ${account.addresses.length}`} open={account.addresses.length > 1}>
      {account.addresses.map((a) => (
        <Entry key={a.id}>
          <span>
            {[a.street, [a.postalCode, a.city].filter(Boolean).join(" "), a.country && countryName(a.country)].filter(Boolean).join(", ")}
            <small>{a.kind}</small>
          </span>
          {may && (
            <span style={{ display: "flex", whiteSpace: "nowrap" }}>
              {a.id !== main && (
                <>
                  <Button look="quiet" onPress={() => setWriting({ id: a.id, body: a })}>
                    Change
                  </Button>
                  <Button look="quiet" aria-label={`Drop the ${a.kind} address`} onPress={() => void act(() => must(api.DELETE("/api/accounts/{id}/addresses/{address}", { params: { path: { id: account.id, address: a.id } } })))}>
                    ×
                  </Button>
                </>
              )}
            </span>
          )}
        </Entry>
      ))}
      {may && !writing && (
        <>
          <Button look="quiet" onPress={() => setWriting({ body: { kind: "billing", street: "", postalCode: "", city: "", region: "", country: "" } })}>
            Add an address
          </Button>
          {account.addresses.length > 0 &&
            ["billing", "delivery"]
              .filter((k) => account.addresses.every((a) => a.kind !== k))
              .map((k) => (
                <Button key={k} look="quiet" onPress={() => void copy(k, account.addresses[0]!.id)}>
                  {k} as {account.addresses[0]!.kind}
                </Button>
              ))}
        </>
      )}
      {writing && <Writer account={account.id} {...writing} onDone={() => setWriting(undefined)} />}
    </Fold>
  );
}

function Writer({ account, id, body, onDone }: { account: string; id?: string; body: Write; onDone: () => void }) {
  const [address, setAddress] = useState(body);
  const { busy, send, said, whole } = useSending();
  const refresh = useRefresh();
  const keep = () =>
    send(async () => {
      const sent = { kind: address.kind, street: address.street, postalCode: address.postalCode, city: address.city, region: address.region, country: address.country };
      if (id) await must(api.PUT("/api/accounts/{id}/addresses/{address}", { params: { path: { id: account, address: id } }, body: sent }));
      else await must(api.POST("/api/accounts/{id}/addresses", { params: { path: { id: account } }, body: sent }));
      await refresh();
      onDone();
    });
  const field = (key: "street" | "postalCode" | "city" | "country", label: string) => <TextBox label={label} value={address[key] ?? ""} onChange={(v) => setAddress({ ...address, [key]: v })} error={said(key)} />;
  return (
    <form
      style={{ display: "grid", gap: 8 }}
      onSubmit={(e) => {
        e.preventDefault();
        void keep();
      }}
    >
      <ChoiceBox label="For" value={address.kind} options={kinds} onChange={(kind) => setAddress({ ...address, kind })} />
      {field("street", "Street")}
      <div style={{ display: "grid", gridTemplateColumns: "110px 1fr", gap: 8 }}>
        {field("postalCode", "Postal code")}
        {field("city", "Place")}
      </div>
      {field("country", "Country")}
      {whole && <p role="alert" style={{ color: "var(--bad)", fontSize: 13 }}>{whole}</p>}
      <div>
        <Button type="submit" isDisabled={busy}>
          Keep
        </Button>
        <Button look="quiet" onPress={onDone}>
          Cancel
        </Button>
      </div>
    </form>
  );
}
