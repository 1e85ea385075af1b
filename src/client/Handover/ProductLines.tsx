import styled from "styled-components";
import type { Schema } from "../api/client";
import { asPlain, plainNumber } from "../common/numbers";
import { NumberText } from "../common/NumberText";
import { Button } from "../parts/Button";
import { ChoiceBox } from "../parts/Field";
import { money } from "../parts/format";
import { small } from "../parts/theme";
import { Wrong } from "../parts/Words";
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
  .line {
    display: contents;
  }
  @media (max-width: 600px) {
    grid-template-columns: minmax(0, 1fr) minmax(0, 1fr) 34px;
    .head {
      display: none;
    }
    .line > :first-child {
      grid-column: 1 / -1;
    }
    .n {
      grid-column: 1 / 3;
    }
  }
`;

type Product = Schema["ProductChoice"];
type Props = { products: DraftProduct[]; list: Product[]; currency: string; onChange: (products: DraftProduct[]) => void; error?: string };

/** Products, how many, at what price: begun from what the lead said it wants. */
export function ProductLines({ products, list, currency, onChange, error }: Props) {
  const set = (i: number, change: Partial<DraftProduct>) => onChange(products.map((p, at) => (at === i ? { ...p, ...change } : p)));
  const priceOf = (key: string) => asPlain(list.find((k) => k.key === key)?.prices[currency] ?? 0);
  const first = list[0];
  return (
    <div>
      {products.length > 0 && (
        <Lines role="group" aria-label="Products">
          {["Product", "How many", "Price of one", "Together", ""].map((h, i) => (
            <span key={i} className={`head${i === 3 ? " n" : ""}`}>
              {h}
            </span>
          ))}
          {products.map((p, i) => (
            <ProductLine key={i} number={i + 1} product={p} list={list} currency={currency} priceOf={priceOf} onChange={(change) => set(i, change)} onDrop={() => onChange(products.filter((_, at) => at !== i))} />
          ))}
        </Lines>
      )}
      {first && (
        <Button look="quiet" onPress={() => onChange([...products, { product: first.key, quantity: "1", price: priceOf(first.key) }])}>
          {products.length ? "Add a product" : "Add the products they want"}
        </Button>
      )}
      {error && <Wrong>{error}</Wrong>}
    </div>
  );
}

type LineProps = { number: number; product: DraftProduct; list: Product[]; currency: string; priceOf: (key: string) => string; onChange: (change: Partial<DraftProduct>) => void; onDrop: () => void };

function ProductLine({ number, product: p, list, currency, priceOf, onChange, onDrop }: LineProps) {
  const total = plainNumber(p.quantity) * plainNumber(p.price);
  const name = list.find((k) => k.key === p.product)?.name ?? p.product;
  return (
    <div className="line">
      <ChoiceBox hideLabel label={`Product ${number}`} value={p.product} options={list.map((k) => ({ key: k.key, label: k.name }))} onChange={(product) => onChange({ product, price: priceOf(product) })} />
      <NumberText label="" aria-label={`How many ${name}`} value={p.quantity} onChange={(quantity) => onChange({ quantity })} />
      <NumberText label="" aria-label={`Price of one ${name}`} value={p.price} onChange={(price) => onChange({ price })} />
      <span className="n">{Number.isNaN(total) ? "–" : money(total, currency)}</span>
      <Button look="quiet" aria-label={`Leave out ${name}`} onPress={onDrop}>
        ×
      </Button>
    </div>
  );
}
