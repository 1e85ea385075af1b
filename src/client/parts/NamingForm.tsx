import { Button } from "./Button";
import { TextBox } from "./Field";

type Props = { label: string; name: string; onName: (name: string | undefined) => void; onAdd: () => void };

/** One line in which something new gets its name; leaving it gives none. */
export function NamingForm({ label, name, onName, onAdd }: Props) {
  return (
    <form
      style={{ display: "flex", gap: 8, alignItems: "end" }}
      onSubmit={(e) => {
        e.preventDefault();
        onAdd();
      }}
    >
      <TextBox label={label} value={name} onChange={onName} autoFocus />
      <Button type="submit" isDisabled={!name.trim()}>
        Add
      </Button>
      <Button look="quiet" onPress={() => onName(undefined)}>
        Cancel
      </Button>
    </form>
  );
}
