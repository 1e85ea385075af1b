import { ChoiceBox } from "../parts/Field";
import { Columns } from "../parts/Layout";
import { NumberText } from "./NumberText";

export type MoneyText = { amount: string; currency: string };

type Props = { label: string; value: MoneyText; onChange: (value: MoneyText) => void; currencies: readonly string[]; error?: string; currencyError?: string; hint?: string };

/** An amount as the person writes numbers, and its currency (ISO 4217). The text becomes a number by `numberOf`. */
export function MoneyBox({ label, value, onChange, currencies, error, currencyError, hint }: Props) {
  const offered = currencies.includes(value.currency) ? currencies : [value.currency, ...currencies];
  return (
    <Columns $of="minmax(0, 1fr) 92px" $gap={2}>
      <NumberText label={label} value={value.amount} onChange={(amount) => onChange({ ...value, amount })} error={error} hint={hint} />
      <ChoiceBox label="Currency" value={value.currency} options={offered.map((c) => ({ key: c, label: c }))} onChange={(currency) => onChange({ ...value, currency })} error={currencyError} />
    </Columns>
  );
}
