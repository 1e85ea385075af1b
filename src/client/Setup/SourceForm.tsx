import type { Schema } from "../api/client";
import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import { Overlay } from "../parts/Dialog";
import { ChoiceBox, TextBox } from "../parts/Field";
import { kindsOf, sourceActs, trusts } from "./sources";

type Props = { source: Schema["ManagedSource"]; view: Schema["SourcesView"]; onClose: () => void };

const none = "–";

/** Calls a source otherwise, and says what arrivals from it count as from then on. */
export function SourceForm({ source, view, onClose }: Props) {
  const { name, eventKind, campaign, trust } = source;
  const form = useForm({ called: `the change of ${name}`, name: `source:${source.key}`, initial: { name, eventKind, campaign: campaign ?? none, trust: String(trust) } });
  const keep = () =>
    form.send((body) => sourceActs.change(source, { ...body, campaign: body.campaign === none ? null : body.campaign, trust: Number(body.trust) }), {
      changes: ["setup"],
      words: "Kept. It counts so from the next arrival on.",
      then: onClose,
    });
  return (
    <Overlay title={name} isOpen onClose={onClose} width={460} unsaved={form}>
      <FormBox form={form} words="Keep" onSend={keep} isReady={!!form.values.name.trim()}>
        {!source.form && <TextBox label="Name" {...form.bind("name")} autoFocus />}
        <ChoiceBox label="Counts as" {...form.bind("eventKind")} options={kindsOf(view, source)} />
        <ChoiceBox label="Campaign" {...form.bind("campaign")} options={[{ key: none, label: "none" }, ...view.campaigns]} />
        <ChoiceBox label="Trusted when records merge" {...form.bind("trust")} options={trusts} />
      </FormBox>
    </Overlay>
  );
}
