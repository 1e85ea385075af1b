import { useState } from "react";
import { api, must, type Schema } from "../api/client";
import { Button } from "../parts/Button";
import { Overlay } from "../parts/Dialog";
import { Fold } from "../parts/Fold";
import { money } from "../parts/format";
import { asPlain, numberOf } from "../common/numbers";
import { ProductLines } from "../Handover/ProductLines";
import type { DraftProduct } from "../Handover/landing";
import { useProducts } from "./queries";
import { useDealAct } from "./parts";

/** What is to be sold; the amount follows where one wants it to. */
export function DealProducts({ sheet, may }: { sheet: Schema["DealSheet"]; may: boolean }) {
  const [changing, setChanging] = useState(false);
  const { deal, products } = sheet;
  return (
    <Fold title={`Products${products.length ? `, ${products.length}` : ""}`} open={products.length > 0}>
      <ul style={{ listStyle: "none", padding: 0, fontSize: 14 }}>
        {products.map((p) => (
          <li key={p.product} style={{ display: "flex", justifyContent: "space-between", gap: 8, padding: "3px 0" }}>
            <span>
              {p.quantity} × {p.name}
            </span>
            <span>{money(p.total, deal.currency)}</span>
          </li>
        ))}
        {sheet.productTotal !== null && (
          <li style={{ display: "flex", justifyContent: "space-between", borderTop: "1px solid var(--mark)", padding: "3px 0", fontWeight: 610 }}>
            <span>together</span>
            <span>{money(sheet.productTotal, deal.currency)}</span>
          </li>
        )}
      </ul>
      {sheet.productTotal !== null && sheet.productTotal !== deal.amount && <p style={{ fontSize: 13, color: "var(--soft)" }}>The amount of the deal is another, {money(deal.amount, deal.currency)}.</p>}
      {products.length === 0 && <p style={{ fontSize: 13, color: "var(--soft)" }}>None said yet.</p>}
      {may && (
        <Button look="quiet" onPress={() => setChanging(true)}>
          Change
        </Button>
      )}
      {changing && <Changing sheet={sheet} onLeave={() => setChanging(false)} />}
    </Fold>
  );
}

function Changing({ sheet, onLeave }: { sheet: Schema["DealSheet"]; onLeave: () => void }) {
  const { deal } = sheet;
  const list = useProducts();
  const act = useDealAct(deal.id);
  const [lines, setLines] = useState<DraftProduct[]>(sheet.products.map((p) => ({ product: p.product, quantity: asPlain(p.quantity), price: asPlain(p.price) })));
  const [follows, setFollows] = useState(sheet.productTotal === null || sheet.productTotal === deal.amount);
  const products = () => Promise.all(lines.map(async (p) => ({ product: p.product, quantity: await numberOf(p.quantity), price: await numberOf(p.price) })));
  const keep = async () => {
    if (await act(async () => must(api.PUT("/api/deals/{id}/products", { params: { path: { id: deal.id } }, body: { products: await products(), amountFollows: follows } })), "The products are kept.")) onLeave();
  };
  return (
    <Overlay title={`Products of ${deal.name}`} isOpen onClose={onLeave} width={660}>
      <ProductLines products={lines} list={list.data ?? []} currency={deal.currency} onChange={setLines} />
      <label style={{ display: "flex", gap: 8, margin: "12px 0", fontSize: 14 }}>
        <input type="checkbox" checked={follows} onChange={(e) => setFollows(e.target.checked)} /> The amount of the deal is what they come to
      </label>
      <Button look="main" onPress={() => void keep()}>
        Keep
      </Button>
      <Button look="quiet" onPress={onLeave}>
        Cancel
      </Button>
    </Overlay>
  );
}
