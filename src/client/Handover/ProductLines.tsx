import styled from "styled-components";
import type { Schema } from "../api/client";
import { Button } from "../parts/Button";
import { ChoiceBox } from "../parts/Field";
import { money } from "../parts/format";
import { asPlain, plainNumber } from "../common/numbers";
import { NumberText } from "../common/NumberText";
import { small } from "../parts/theme";
import type { DraftProduct } from "./landing";

const Lines = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) 76px 104px 104px 34px;
  gap: 6px 10px;
  align-items: center;
  font-size: 14px;
  .head {
    ${small}
    font-size: 12px;
  }
  .n {
    text-align: right;
    font-variant-numeric: tabular-nums;
  }
`;

type Props = { products: DraftProduct[]; list: Schema["ProductChoice"][]; currency: string; onChange: (products: DraftProduct[]) => void; error?: string };

/** Products, how many, at what price: begun from what the lead said it wants. */
export function ProductLines({ products, list, currency, onChange, error }: Props) {
  const set = (i: number, change: Partial<DraftProduct>) => onChange(products.map((p, at) => (at === i ? { ...p, ...change } : p)));
  const priceOf = (key: string) => asPlain(list.find((k) => k.key === key)?.prices[currency] ?? 0);
  return (
    <div>
      {products.length > 0 && (
        <Lines role="group" aria-label="Products">
          {["Product", "How many", "Price of one", "Together", ""].map((h, i) => (
            <span key={i} className={`head${i === 3 ? " n" : ""}`}>
              {h}
            </span>
          ))}
          {products.map((p, i) => {
            const total = plainNumber(p.quantity) * plainNumber(p.price);
            const name = list.find((k) => k.key === p.product)?.name ?? p.product;
            return (
              <div key={i} style={{ display: "contents" }}>
                <ChoiceBox hideLabel label={`Product ${i + 1}`} value={p.product} options={list.map((k) => ({ key: k.key, label: k.name }))} onChange={(product) => set(i, { product, price: priceOf(product) })} />
                <NumberText label="" aria-label={`How many ${name}`} value={p.quantity} onChange={(quantity) => set(i, { quantity })} />
                <NumberText label="" aria-label={`Price of one ${name}`} value={p.price} onChange={(price) => set(i, { price })} />
                <span className="n">{Number.isNaN(total) ? "–" : money(total, currency)}</span>
                <Button look="quiet" aria-label={`Leave out ${name}`} onPress={() => onChange(products.filter((_, at) => at !== i))}>
                  ×
                </Button>
              </div>
            );
          })}
        </Lines>
      )}
      {list.length > 0 && (
        <Button look="quiet" onPress={() => onChange([...products, { product: list[0]!.key, quantity: "1", price: priceOf(list[0]!.key) }])}>
          {products.length ? "Add a product" : "Add the products they want"}
        </Button>
      )}
      {error && (
        <p role="alert" style={{ color: "var(--bad)", fontSize: 13 }}>
          {error}
        </p>
      )}
    </div>
  );
}
