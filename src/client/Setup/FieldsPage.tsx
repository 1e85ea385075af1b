import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Form } from "react-aria-components";
import { api, must, type Schema, type ApiError } from "../api/client";
import { Cap, Table } from "../parts/Bench";
import { Button } from "../parts/Button";
import { Overlay } from "../parts/Dialog";
import { ChoiceBox, TextBox } from "../parts/Field";
import { whole } from "../parts/format";
import { Empty } from "../parts/States";
import { tell, tellError } from "../parts/Toast";
import { useRefresh } from "../common/session";
import { Adding, SetupPage } from "./SetupPage";
import { keys } from "../common/keys";

type Kind = Schema["FieldType"];

const kinds: [Kind, string][] = [
  ["text", "words"],
  ["number", "a number"],
  ["choice", "one of a list"],
  ["yesNo", "yes or no"],
  ["date", "a date"],
  ["money", "an amount of money"],
  ["email", "an email address"],
  ["phone", "a telephone number"],
  ["domain", "a web domain"],
  ["country", "a country"],
  ["name", "a name"],
];
type Lands = NonNullable<Schema["NewField"]["lands"]>;

const places: [string, string, Lands, boolean][] = [
  ["lead-deal", "leads, then deals", "deal", true],
  ["lead-account", "leads, then accounts", "account", true],
  ["lead-contact", "leads, then contacts", "contact", true],
  ["deal", "deals only", "deal", false],
  ["account", "accounts only", "account", false],
  ["contact", "contacts only", "contact", false],
];
const words = new Map<string, string>(kinds);
const lines = (text: string) => text.split("\n").map((l) => l.trim()).filter(Boolean);

/** Fields of one's own: there at once in lists, forms, conditions and on every lead. */
export function FieldsPage() {
  const fields = useQuery({ queryKey: keys.customFields, queryFn: () => must(api.GET("/api/custom-fields")) });
  const [changing, setChanging] = useState<Schema["CustomFieldView"]>();
  const refresh = useRefresh();
  const remove = (key: string) => must(api.DELETE("/api/custom-fields/{key}", { params: { path: { key } } })).then(() => (tell("Removed."), refresh()), tellError);
  return (
    <SetupPage title="Fields of your own" intro="A field added here is there at once: on leads in lists, forms and conditions; on contacts, accounts and deals beside the rest." query={fields}>
      {(data) => (
        <>
          <Add />
          {data.length === 0 && <Empty>There are the built-in fields only.</Empty>}
          {data.length > 0 && (
            <Table $middle>
              <thead>
                <tr>
                  <th>Field</th>
                  <th>Holds</th>
                  <th>Kept with</th>
                  <th className="n">Known for</th>
                  <th />
                </tr>
              </thead>
              <tbody>
                {data.map((f) => (
                  <tr key={f.key}>
                    <td>
                      {f.label}
                      {f.personal && <Cap>about a person</Cap>}
                    </td>
                    <td>
                      {words.get(f.type) ?? f.type}
                      {f.currency && `, in ${f.currency}`}
                      {f.choices.length > 0 && <Cap>{f.choices.map((c) => c.label).join(", ")}</Cap>}
                    </td>
                    <td>{places.find(([, , lands, onLead]) => lands === f.lands && onLead === f.onLead)?.[1]}</td>
                    <td className="n">{whole(f.known)}</td>
                    <td>
                      <Button look="quiet" onPress={() => setChanging(f)}>
                        Change
                      </Button>
                      {f.known === 0 && (
                        <Button look="quiet" onPress={() => void remove(f.key)}>
                          Remove
                        </Button>
                      )}
                    </td>
                  </tr>
                ))}
              </tbody>
            </Table>
          )}
          <Overlay title="Change the field" isOpen={!!changing} onClose={() => setChanging(undefined)} width={440}>
            {changing && <Change field={changing} onDone={() => setChanging(undefined)} />}
          </Overlay>
        </>
      )}
    </SetupPage>
  );
}

function Add() {
  const [label, setLabel] = useState("");
  const [type, setType] = useState<Kind>("text");
  const [personal, setPersonal] = useState(false);
  const [place, setPlace] = useState(places[0]![0]);
  const [choices, setChoices] = useState("");
  const [currency, setCurrency] = useState("EUR");
  const [trouble, setTrouble] = useState<ApiError>();
  const refresh = useRefresh();
  const add = async () => {
    const [, , lands, onLead] = places.find(([key]) => key === place)!;
    try {
      await must(api.POST("/api/custom-fields", { body: { label, type, personal, currency, choices: type === "choice" ? lines(choices) : null, lands, onLead } }));
      tell(`${label.trim()} is there, everywhere.`);
      setLabel("");
      setChoices("");
      setTrouble(undefined);
      await refresh();
    } catch (e) {
      setTrouble(e as ApiError);
    }
  };
  const said = (field: string) => (trouble?.field === field ? trouble.message : undefined);
  return (
    <Adding onAdd={add} choices={3}>
      <TextBox label="A new field" value={label} onChange={setLabel} error={said("label") ?? (trouble && !trouble.field ? trouble.message : undefined)} />
      <ChoiceBox label="Holds" value={type} options={kinds.map(([key, text]) => ({ key, label: text }))} onChange={(k) => setType(k as Kind)} />
      <ChoiceBox
        label="Says something about"
        value={personal ? "person" : "company"}
        options={[
          { key: "company", label: "the company" },
          { key: "person", label: "the person" },
        ]}
        onChange={(k) => setPersonal(k === "person")}
      />
      <ChoiceBox label="Kept with" value={place} options={places.map(([key, text]) => ({ key, label: text }))} onChange={setPlace} />
      <Button look="main" type="submit" isDisabled={!label.trim()}>
        Add
      </Button>
      {type === "choice" && <TextBox label="Its values, one a line" lines value={choices} onChange={setChoices} error={said("choices")} />}
      {type === "money" && <TextBox label="In which currency" value={currency} onChange={(c) => setCurrency(c.toUpperCase())} error={said("currency")} />}
    </Adding>
  );
}

function Change({ field, onDone }: { field: Schema["CustomFieldView"]; onDone: () => void }) {
  const [label, setLabel] = useState(field.label);
  const [choices, setChoices] = useState(field.choices.map((c) => c.label).join("\n"));
  const [trouble, setTrouble] = useState<ApiError>();
  const refresh = useRefresh();
  const keep = async () => {
    try {
      await must(api.PUT("/api/custom-fields/{key}", { params: { path: { key: field.key } }, body: { label, choices: field.type === "choice" ? lines(choices) : null } }));
      onDone();
      await refresh();
    } catch (e) {
      setTrouble(e as ApiError);
    }
  };
  return (
    <Form
      onSubmit={(e) => {
        e.preventDefault();
        void keep();
      }}
    >
      <TextBox label="Name" value={label} onChange={setLabel} error={trouble?.field === "label" ? trouble.message : undefined} />
      {field.type === "choice" && <TextBox label="Its values, one a line" lines value={choices} onChange={setChoices} error={trouble?.field === "choices" ? trouble.message : undefined} />}
      <div style={{ marginTop: 14 }}>
        <Button look="main" type="submit">
          Keep
        </Button>
      </div>
    </Form>
  );
}
