import styled from "styled-components";
import { MoneyBox } from "../common/MoneyBox";
import { PickListChoice } from "../common/PickList";
import { DayBox } from "../parts/DayBox";
import { ChoiceBox, TextBox } from "../parts/Field";
import { money } from "../parts/format";
import { amountOf, draftOf, inCurrency, withProducts, type DealDraft, type Sheet } from "./landing";
import { ProductLines } from "./ProductLines";

const Fields = styled.div`
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 10px 16px;
  margin: 6px 0 10px;
  align-items: start;
  .all {
    grid-column: 1 / -1;
  }
  .two {
    grid-column: span 2;
  }
  @media (max-width: 600px) {
    grid-template-columns: minmax(0, 1fr);
    .two {
      grid-column: auto;
    }
  }
`;

type Props = { sheet: Sheet; deal: DealDraft; onChange: (deal: DealDraft) => void; said: (field: string) => string | undefined };

/** The deal it becomes: pipeline, name by the convention, worth, close, what part the contact has in it, what they want. */
export function DealForm({ sheet, deal, onChange, said }: Props) {
  const currencies = [...new Set([deal.currency, ...sheet.products.flatMap((p) => Object.keys(p.prices))])].sort();
  const amount = amountOf(deal);
  const worth = (value: { amount: string; currency: string }) => (value.currency === deal.currency ? onChange({ ...deal, amount: value.amount, follows: false }) : onChange(inCurrency(deal, value.currency, sheet.products)));
  return (
    <Fields>
      <div className="all">
        <TextBox label="Name" value={deal.name} onChange={(name) => onChange({ ...deal, name })} error={said("dealName")} />
      </div>
      <ChoiceBox
        label="Pipeline"
        value={deal.pipeline}
        options={sheet.proposals.map((p) => ({ key: p.pipeline, label: p.pipelineName }))}
        error={said("pipeline")}
        onChange={(pipeline) => onChange({ ...draftOf(sheet, pipeline), role: deal.role })}
      />
      <DayBox label="Expected close" value={deal.closes} onChange={(closes) => onChange({ ...deal, closes })} error={said("expectedClose")} />
      <PickListChoice list="deal-roles" label="Their part in it" none="no part in particular" value={deal.role} onChange={(role) => onChange({ ...deal, role })} error={said("role")} />
      <div className="all">
        <ProductLines products={deal.products} list={sheet.products} currency={deal.currency} onChange={(products) => onChange(withProducts(deal, products))} error={said("products")} />
      </div>
      <div className="two">
        <MoneyBox
          label="Amount"
          value={deal}
          currencies={currencies}
          onChange={worth}
          error={said("amount")}
          currencyError={said("currency")}
          hint={amount > 0 ? `${money(amount, deal.currency)}${deal.follows && deal.products.length ? ", as the products come to" : ""}` : "to be said later"}
        />
      </div>
    </Fields>
  );
}
