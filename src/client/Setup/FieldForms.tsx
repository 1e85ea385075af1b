import { api, must, type Schema } from "../api/client";
import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import { useSession } from "../common/session";
import { Overlay } from "../parts/Dialog";
import { ChoiceBox, TextBox } from "../parts/Field";
import { Adding } from "./SetupPage";

type Kind = Schema["FieldType"];
type Lands = NonNullable<Schema["NewField"]["lands"]>;

export const fieldKinds: { key: Kind; label: string }[] = [
  { key: "text", label: "words" },
  { key: "number", label: "a number" },
  { key: "choice", label: "one of a list" },
  { key: "yesNo", label: "yes or no" },
  { key: "date", label: "a date" },
  { key: "money", label: "an amount of money" },
  { key: "email", label: "an email address" },
  { key: "phone", label: "a telephone number" },
  { key: "domain", label: "a web domain" },
  { key: "country", label: "a country" },
  { key: "name", label: "a name" },
];

/** The kinds of record a field is kept with. */
export const places: { key: string; label: string; lands: Lands; onLead: boolean }[] = [
  { key: "lead-deal", label: "leads, then deals", lands: "deal", onLead: true },
  { key: "lead-account", label: "leads, then accounts", lands: "account", onLead: true },
  { key: "lead-contact", label: "leads, then contacts", lands: "contact", onLead: true },
  { key: "deal", label: "deals only", lands: "deal", onLead: false },
  { key: "account", label: "accounts only", lands: "account", onLead: false },
  { key: "contact", label: "contacts only", lands: "contact", onLead: false },
];

const abouts = [
  { key: "company", label: "the company" },
  { key: "person", label: "the person" },
  { key: "cost", label: "a cost or a margin" },
];

const lines = (text: string) => text.split("\n").map((l) => l.trim()).filter(Boolean);

/** A new field: its name, the kind of its value, and where it is kept. */
export function AddField() {
  const { currency } = useSession();
  const form = useForm({ called: "the new field", name: "new-field", initial: { label: "", type: "text" as Kind, about: "company", place: places[0]!.key, choices: "", currency } });
  const { label, type } = form.values;
  const add = () =>
    form.send(
      ({ about, place, choices, ...rest }) => {
        const { lands, onLead } = places.find((p) => p.key === place)!;
        return must(api.POST("/api/custom-fields", { body: { ...rest, personal: about === "person", cost: about === "cost", choices: type === "choice" ? lines(choices) : null, lands, onLead } }));
      },
      { changes: ["setup"], words: `${label.trim()} is there, everywhere.` },
    );
  const more = (
    <>
      {type === "choice" && <TextBox label="Its values, one a line" lines {...form.bind("choices")} />}
      {type === "money" && <TextBox label="In which currency" {...form.bind("currency")} onChange={(c) => form.set({ currency: c.toUpperCase() })} />}
    </>
  );
  return (
    <Adding form={form} words="Add" onAdd={add} isReady={!!label.trim()} columns={3} below={more}>
      <TextBox label="A new field" {...form.bind("label")} />
      <ChoiceBox label="Holds" {...form.bind("type")} onChange={(k) => form.set({ type: k as Kind })} options={fieldKinds} />
      <ChoiceBox label="Says something about" {...form.bind("about")} options={abouts} />
      <ChoiceBox label="Kept with" {...form.bind("place")} options={places} />
    </Adding>
  );
}

/** Another name for a field, and other values for one of a list. */
export function ChangeField({ field, onDone }: { field: Schema["CustomFieldView"]; onDone: () => void }) {
  const form = useForm({ called: "the change of the field", name: `field:${field.key}`, initial: { label: field.label, choices: field.choices.map((c) => c.label).join("\n") } });
  const isChoice = field.type === "choice";
  const keep = () =>
    form.send(({ label, choices }) => must(api.PUT("/api/custom-fields/{key}", { params: { path: { key: field.key } }, body: { label, choices: isChoice ? lines(choices) : null } })), { changes: ["setup"], words: `${form.values.label} is kept.`, then: onDone });
  return (
    <Overlay title="Change the field" isOpen onClose={onDone} width={440} unsaved={form}>
      <FormBox form={form} words="Keep" onSend={keep}>
        <TextBox label="Name" {...form.bind("label")} autoFocus />
        {isChoice && <TextBox label="Its values, one a line" lines {...form.bind("choices")} />}
      </FormBox>
    </Overlay>
  );
}
