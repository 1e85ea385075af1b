import styled from "styled-components";
import type { ApiError } from "../api/client";
import { DayBox } from "../parts/DayBox";
import { ChoiceBox, TextBox } from "../parts/Field";
import { money } from "../parts/format";
import { NumberText } from "../common/NumberText";
import { PickListChoice } from "../common/PickList";
import { amountOf, draftOf, inCurrency, withProducts, type DealDraft, type Sheet } from "./landing";
import { ProductLines } from "./ProductLines";

const Fields = styled.div`
  display: grid;
  grid-template-columns: repeat(6, minmax(0, 1fr));
  gap: 10px 16px;
  margin: 6px 0 10px;
  .all {
    grid-column: 1 / -1;
  }
  .two {
    grid-column: span 2;
  }
  .three {
    grid-column: span 3;
  }
`;

type Props = { sheet: Sheet; deal: DealDraft; onChange: (deal: DealDraft) => void; trouble?: ApiError };

/** The deal it becomes: pipeline, name by the convention, worth, close, who the contact is in it, what they want. */
export function DealForm({ sheet, deal, onChange, trouble }: Props) {
  const said = (field: string) => (trouble?.field === field ? trouble.message : undefined);
  const currencies = [...new Set([deal.currency, ...sheet.products.flatMap((p) => Object.keys(p.prices))])].sort();
  const amount = amountOf(deal);
  return (
    <Fields>
      <div className="all">
        <TextBox label="Name" value={deal.name} onChange={(name) => onChange({ ...deal, name })} error={said("dealName")} />
      </div>
      <div className="two">
        <ChoiceBox
          label="Pipeline"
          value={deal.pipeline}
          options={sheet.proposals.map((p) => ({ key: p.pipeline, label: p.pipelineName }))}
          error={said("pipeline")}
          onChange={(pipeline) => onChange({ ...draftOf(sheet, pipeline), role: deal.role })}
        />
      </div>
      <div className="two">
        <DayBox label="Expected close" value={deal.closes} onChange={(closes) => onChange({ ...deal, closes })} error={said("expectedClose")} />
      </div>
      <div className="two">
        <PickListChoice list="deal-roles" label="Their part in it" none="no part in particular" value={deal.role} onChange={(role) => onChange({ ...deal, role })} error={said("role")} />
      </div>
      <div className="all">
        <ProductLines products={deal.products} list={sheet.products} currency={deal.currency} onChange={(products) => onChange(withProducts(deal, products))} error={said("products")} />
      </div>
      <div className="three">
        <NumberText
          label="Amount"
          value={deal.amount}
          onChange={(text) => onChange({ ...deal, amount: text, follows: false })}
          error={said("amount")}
          hint={amount > 0 ? `${money(amount, deal.currency)}${deal.follows && deal.products.length ? ", as the products come to" : ""}` : "to be said later"}
        />
      </div>
      <div className="three">
        <ChoiceBox label="Currency" value={deal.currency} options={currencies.map((c) => ({ key: c, label: c }))} onChange={(currency) => onChange(inCurrency(deal, currency, sheet.products))} error={said("currency")} />
      </div>
    </Fields>
  );
}
