import { useNavigate } from "react-router";
import { api, must } from "../api/client";
import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import { Overlay } from "../parts/Dialog";
import { TextBox } from "../parts/Field";
import { Tick } from "../parts/Ticks";

/** An account made by hand. */
export function NewAccount({ onLeave }: { onLeave: () => void }) {
  const navigate = useNavigate();
  const form = useForm({ called: "the new account", name: "new-account", initial: { name: "", country: "", website: "", household: false } });
  const make = () =>
    form.send(({ country, website, ...body }) => must(api.POST("/api/accounts", { body: { ...body, country: country || null, website: website || null } })), {
      changes: ["deal"],
      words: (account) => `${account.name} is made.`,
      then: (account) => {
        onLeave();
        void navigate(`/deals/accounts/${account.id}`);
      },
    });
  return (
    <Overlay title="New account" isOpen onClose={onLeave} width={460} unsaved={form}>
      <FormBox form={form} words="Make it" onSend={make}>
        <TextBox label="Name" {...form.bind("name")} autoFocus />
        <TextBox label="Country" {...form.bind("country")} />
        <TextBox label="Website" {...form.bind("website")} />
        <Tick {...form.bind("household")}>A household, not an organisation</Tick>
      </FormBox>
    </Overlay>
  );
}
