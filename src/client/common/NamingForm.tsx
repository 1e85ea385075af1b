import { TextBox } from "../parts/Field";
import type { useForm } from "./form";
import { FormBox } from "./FormBox";

type Props = { form: ReturnType<typeof useForm<{ label: string }>>; label: string; onAdd: () => unknown; onLeave: () => void };

/** One line in which something new gets its name. */
export function NamingForm({ form, label, onAdd, onLeave }: Props) {
  return (
    <FormBox form={form} words="Add" look="plain" onSend={onAdd} onLeave={onLeave} leaveWords="Cancel" isReady={!!form.values.label.trim()}>
      <TextBox label={label} {...form.bind("label")} error={form.said("label") ?? form.said("name")} autoFocus />
    </FormBox>
  );
}
