import { useState } from "react";
import { api, must, type Schema } from "../api/client";
import { useAct } from "../common/acting";
import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import { Button } from "../parts/Button";
import { ChoiceBox, TextBox } from "../parts/Field";
import { Fold } from "../parts/Fold";
import { countryName } from "../parts/format";
import { Columns } from "../parts/Layout";
import { Unbroken } from "../parts/Words";
import { Entry } from "./directory";

type Account = Schema["AccountSheet"];
type Address = Account["addresses"][number];
type Write = Schema["AddressWrite"];

const kinds = [
  { key: "billing", label: "billing" },
  { key: "delivery", label: "delivery" },
  { key: "other", label: "other" },
];
const main = "00000000-0000-0000-0000-000000000000";
const blank: Write = { kind: "billing", street: "", postalCode: "", city: "", region: "", country: "" };

/** Where an account is, is billed, and is delivered to; one can be made like another. */
export function AccountAddresses({ account, may }: { account: Account; may: boolean }) {
  const [writing, setWriting] = useState<{ id?: string; body: Write }>();
  const act = useAct();
  const path = { id: account.id };
  const first = account.addresses[0];
  const copy = (kind: string, from: string) => void act.run(() => must(api.POST("/api/accounts/{id}/addresses/copy", { params: { path }, body: { kind, from: from === main ? null : from } })), { changes: ["deal"] });
  const lacking = first ? ["billing", "delivery"].filter((k) => account.addresses.every((a) => a.kind !== k)) : [];
  return (
    <Fold title={`Addresses, ${account.addresses.length}`} open={account.addresses.length > 1}>
      {account.addresses.map((a) => (
        <Line key={a.id} account={account.id} address={a} may={may} onChange={() => setWriting({ id: a.id, body: a })} />
      ))}
      {may && !writing && (
        <>
          <Button look="quiet" onPress={() => setWriting({ body: blank })}>
            Add an address
          </Button>
          {lacking.map((k) => (
            <Button key={k} look="quiet" isPending={act.busy} onPress={() => copy(k, first!.id)}>
              {k} as {first!.kind}
            </Button>
          ))}
        </>
      )}
      {writing && <Writer account={account.id} {...writing} onDone={() => setWriting(undefined)} />}
    </Fold>
  );
}

function Line({ account, address: a, may, onChange }: { account: string; address: Address; may: boolean; onChange: () => void }) {
  const act = useAct();
  const drop = () => void act.run(() => must(api.DELETE("/api/accounts/{id}/addresses/{address}", { params: { path: { id: account, address: a.id } } })), { changes: ["deal"] });
  return (
    <Entry>
      <span>
        {[a.street, [a.postalCode, a.city].filter(Boolean).join(" "), a.country && countryName(a.country)].filter(Boolean).join(", ")}
        <small>{a.kind}</small>
      </span>
      {may && a.id !== main && (
        <Unbroken>
          <Button look="quiet" onPress={onChange}>
            Change
          </Button>
          <Button look="quiet" aria-label={`Drop the ${a.kind} address`} onPress={drop}>
            ×
          </Button>
        </Unbroken>
      )}
    </Entry>
  );
}

function Writer({ account, id, body, onDone }: { account: string; id?: string; body: Write; onDone: () => void }) {
  const { kind, street, postalCode, city, region, country } = body;
  const form = useForm({ called: "the address", name: `${account}:address:${id ?? "new"}`, initial: { kind, street: street ?? "", postalCode: postalCode ?? "", city: city ?? "", region: region ?? "", country: country ?? "" } });
  const write = (values: typeof form.values) =>
    id ? must(api.PUT("/api/accounts/{id}/addresses/{address}", { params: { path: { id: account, address: id } }, body: values })) : must(api.POST("/api/accounts/{id}/addresses", { params: { path: { id: account } }, body: values }));
  const keep = () => form.send(async (values) => void (await write(values)), { changes: ["deal"], words: "The address is kept.", then: onDone });
  return (
    <FormBox form={form} words="Keep" look="plain" onSend={keep} onLeave={onDone} leaveWords="Cancel">
      <ChoiceBox label="For" {...form.bind("kind")} options={kinds} autoFocus />
      <TextBox label="Street" {...form.bind("street")} />
      <Columns $of="110px 1fr" $gap={2}>
        <TextBox label="Postal code" {...form.bind("postalCode")} />
        <TextBox label="Place" {...form.bind("city")} />
      </Columns>
      <TextBox label="Country" {...form.bind("country")} />
    </FormBox>
  );
}
