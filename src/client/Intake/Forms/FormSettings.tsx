import { useState } from "react";
import { api, must, type Schema } from "../../api/client";
import { useAct } from "../../common/acting";
import { ChoiceBox, TextBox } from "../../parts/Field";

const none = "–";

/** What a post counts as, and the name a form has among us; each kept at once. */
export function FormSettings({ form, may }: { form: Schema["FormView"]; may: boolean }) {
  const { settings, choices } = form;
  const [name, setName] = useState(settings.name);
  const act = useAct();
  const put = (body: Schema["FormSettings"]) => must(api.PUT("/api/forms/{key}/settings", { params: { path: { key: form.key } }, body }));
  const keep = async (more: Partial<Schema["FormSettings"]>) => {
    const done = await act.run(() => put({ ...settings, ...more }), { changes: ["forms"], words: "Kept.", back: () => put(settings) });
    if (!done) setName(settings.name);
  };
  return (
    <>
      <ChoiceBox label="For engagement" value={settings.eventKind} options={choices.eventKinds} isDisabled={!may} onChange={(eventKind) => void keep({ eventKind })} />
      <ChoiceBox label="Campaign, unless the link names one" value={settings.campaign ?? none} options={[{ key: none, label: "none" }, ...choices.campaigns]} isDisabled={!may} onChange={(c) => void keep({ campaign: c === none ? null : c })} />
      <TextBox label="Internal name" value={name} onChange={setName} isDisabled={!may} onBlur={() => name !== settings.name && void keep({ name })} />
    </>
  );
}
