import { useState } from "react";
import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import { asPlain, numberOf } from "../common/numbers";
import type { DraftProduct } from "../Handover/landing";
import { ProductLines } from "../Handover/ProductLines";
import { Button } from "../parts/Button";
import { Overlay } from "../parts/Dialog";
import { Fold } from "../parts/Fold";
import { money } from "../parts/format";
import { Plain } from "../parts/Layout";
import { Tick } from "../parts/Ticks";
import { Hint } from "../parts/Words";
import { useDealAct } from "./acting";
import { useProducts } from "./queries";

const Line = styled.li<{ $sum?: boolean }>`
  display: flex;
  justify-content: space-between;
  gap: 8px;
  padding: 3px 0;
  ${(p) => p.$sum && "border-top: 1px solid var(--mark); font-weight: 610;"}
`;

type Sheet = Schema["DealSheet"];

/** What is to be sold; the amount follows where one wants it to. */
export function DealProducts({ sheet, may }: { sheet: Sheet; may: boolean }) {
  const [changing, setChanging] = useState(false);
  const { deal, products, productTotal } = sheet;
  return (
    <Fold title={`Products${products.length ? `, ${products.length}` : ""}`} open={products.length > 0}>
      <Plain>
        {products.map((p) => (
          <Line key={p.product}>
            <span>
              {p.quantity} × {p.name}
            </span>
            <span>{money(p.total, deal.currency)}</span>
          </Line>
        ))}
        {productTotal !== null && (
          <Line $sum>
            <span>together</span>
            <span>{money(productTotal, deal.currency)}</span>
          </Line>
        )}
      </Plain>
      {productTotal !== null && productTotal !== deal.amount && <Hint>The amount of the deal is another, {money(deal.amount, deal.currency)}.</Hint>}
      {products.length === 0 && <Hint>None said yet.</Hint>}
      {may && (
        <Button look="quiet" onPress={() => setChanging(true)}>
          Change
        </Button>
      )}
      {changing && <Changing sheet={sheet} onLeave={() => setChanging(false)} />}
    </Fold>
  );
}

const read = (lines: DraftProduct[]) => Promise.all(lines.map(async (p) => ({ product: p.product, quantity: await numberOf(p.quantity, "products"), price: await numberOf(p.price, "products") })));

function Changing({ sheet, onLeave }: { sheet: Sheet; onLeave: () => void }) {
  const { deal } = sheet;
  const list = useProducts();
  const { show } = useDealAct(deal.id);
  const form = useForm({
    called: "the products",
    name: `${deal.id}:products`,
    initial: {
      products: sheet.products.map((p): DraftProduct => ({ product: p.product, quantity: asPlain(p.quantity), price: asPlain(p.price) })),
      amountFollows: sheet.productTotal === null || sheet.productTotal === deal.amount,
    },
  });
  const keep = () =>
    form.send(async ({ products, amountFollows }) => show(await must(api.PUT("/api/deals/{id}/products", { params: { path: { id: deal.id } }, body: { products: await read(products), amountFollows } }))), {
      changes: ["deal"],
      words: "The products are kept.",
      then: onLeave,
    });
  const { value: products, onChange, error } = form.bind("products");
  return (
    <Overlay title={`Products of ${deal.name}`} isOpen onClose={onLeave} width={660} unsaved={form}>
      <FormBox form={form} words="Keep" onSend={keep}>
        <ProductLines products={products} list={list.data ?? []} currency={deal.currency} onChange={onChange} error={error} />
        <Tick {...form.bind("amountFollows")}>The amount of the deal is what they come to</Tick>
      </FormBox>
    </Overlay>
  );
}
