import { NumberText } from "../common/NumberText";
import { DayBox } from "../parts/DayBox";
import { TextBox } from "../parts/Field";
import { Columns } from "../parts/Layout";
import { Picking } from "../parts/Picking";
import type { Field, Test } from "./conditions";

const operatorOf = (field: Field, test: Test) => field.operators.find((o) => o.key === test.is);

/** True where the test is about a number: also a date held against a count of days. */
export const isNumber = (field: Field, test: Test) => !!operatorOf(field, test)?.days || field.type === "number" || field.type === "money";

/** True where the test is about a calendar day. */
export const isDate = (field: Field, test: Test) => field.type === "date" && !operatorOf(field, test)?.days;

type Props = { field: Field; test: Test; texts: string[]; error?: string; onChange: (texts: string[]) => void };

/** What a field is tested with: as many boxes as the test takes, of the kind the field is. */
export function ConditionValues({ field, test, texts, error, onChange }: Props) {
  const values = operatorOf(field, test)?.values ?? 0;
  if (values === 0) return null;
  if (field.choices.length > 0 && test.is === "in") return <Picking label={field.label} options={field.choices} value={texts} onChange={onChange} error={error} />;
  const One = isNumber(field, test) ? NumberText : isDate(field, test) ? DayBox : TextBox;
  if (values === 2)
    return (
      <Columns $of="1fr 1fr" $gap={2}>
        <One label="From" value={texts[0] ?? ""} onChange={(v) => onChange([v, texts[1] ?? ""])} error={error} />
        <One label="To" value={texts[1] ?? ""} onChange={(v) => onChange([texts[0] ?? "", v])} />
      </Columns>
    );
  if (isNumber(field, test) || isDate(field, test)) {
    const label = isDate(field, test) ? "Day" : field.type === "date" ? "Days" : "Number";
    return <One label={label} value={texts.join("")} onChange={(v) => onChange([v])} error={error} />;
  }
  return <TextBox label="Text; a comma between several" value={texts.join(", ")} onChange={(v) => onChange(v.split(/,\s?/))} error={error} autoFocus />;
}
