import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import { Overlay } from "../parts/Dialog";
import { TextBox } from "../parts/Field";
import { listActs, type KeptList, type KeptValue } from "./lists";

type Props = { list: KeptList; value: KeptValue; onClose: () => void };

const wordsOf = (typed: string) =>
  typed
    .split(/[,;\n]/)
    .map((w) => w.trim())
    .filter(Boolean);

/** Calls a value otherwise, and says by which other words it is read. */
export function ValueForm({ list, value, onClose }: Props) {
  const form = useForm({ called: `the change of ${value.label}`, name: `value:${list.key}:${value.key}`, initial: { label: value.label, alsoCalled: value.alsoCalled.join(", ") } });
  const keep = () =>
    form.send(({ label, alsoCalled }) => listActs.change(list.key, value.key, { label, ...(list.isRead ? { alsoCalled: wordsOf(alsoCalled) } : {}) }), {
      changes: ["lists", "setup", "deal"],
      words: "Kept. It is called so everywhere.",
      then: onClose,
    });
  return (
    <Overlay title={value.label} isOpen onClose={onClose} width={460} unsaved={form}>
      <FormBox form={form} words="Keep" onSend={keep} isReady={!!form.values.label.trim()}>
        <TextBox label="Name" {...form.bind("label")} autoFocus />
        {list.isRead && <TextBox label="Also read as" {...form.bind("alsoCalled")} hint="other words by which files and forms name it, parted by commas" />}
      </FormBox>
    </Overlay>
  );
}
