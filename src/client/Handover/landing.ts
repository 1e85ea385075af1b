import type { Schema } from "../api/client";
import { asPlain, numberOf, plainNumber } from "../common/numbers";

export type Sheet = Schema["HandoverPreview"];
export type Line = Sheet["lines"][number];

/** What the person chose of what is there; what is not here is as the sheet proposes. */
export type Targets = { account?: string; newAccount?: boolean; contact?: string; newContact?: boolean; makes?: "none" | "organisation" | "household" };

/** Keys of facts whose value is taken over what is there, and of those left behind. */
export type Choices = { take: string[]; drop: string[] };

export type DraftProduct = { product: string; quantity: string; price: string };

export type DealDraft = { pipeline: string; name: string; amount: string; currency: string; closes: string; role: string; products: DraftProduct[]; follows: boolean };

/** The ids of the account and contact that are linked; null for new ones. */
export const settle = (sheet: Sheet, targets: Targets) => ({
  account: targets.makes === "none" || targets.newAccount ? null : (targets.account ?? sheet.accounts.find((a) => a.same)?.id ?? null),
  contact: targets.newContact ? null : (targets.contact ?? sheet.contacts.find((c) => c.same)?.id ?? null),
});

/** The deal as the sheet proposes it for a pipeline. Its amount follows its products until somebody writes one. */
export function draftOf(sheet: Sheet, pipeline: string): DealDraft {
  const p = sheet.proposals.find((x) => x.pipeline === pipeline) ?? sheet.proposals[0];
  if (!p) return { pipeline: "", name: "", amount: "", currency: "EUR", closes: "", role: sheet.role, products: [], follows: true };
  return {
    pipeline: p.pipeline,
    name: p.name,
    amount: p.amount === null ? "" : asPlain(p.amount),
    currency: p.currency,
    closes: p.expectedClose,
    role: sheet.role,
    products: p.products.map((l) => ({ product: l.product, quantity: asPlain(l.quantity), price: asPlain(l.price ?? 0) })),
    follows: true,
  };
}

/** The order to hand a lead over as its sheet and the person's choices say; numbers are read by the server where they are not written plainly. */
export async function orderOf(sheet: Sheet, targets: Targets, choices: Choices, deal: DealDraft, along: Record<string, string>) {
  const linked = settle(sheet, targets);
  return {
    accountId: linked.account,
    newAccount: !!targets.newAccount,
    contactId: linked.contact,
    newContact: !!targets.newContact,
    makes: targets.makes ?? null,
    accountName: null,
    take: choices.take,
    drop: choices.drop,
    pipeline: deal.pipeline,
    dealName: deal.name,
    currency: deal.currency,
    expectedClose: deal.closes,
    role: deal.role,
    along: Object.entries(along).map(([leadId, role]) => ({ leadId, role, contactId: null, newContact: false })),
    amount: await numberOf(deal.amount.trim() || "0", "amount"),
    products: await Promise.all(deal.products.map(async (p) => ({ product: p.product, quantity: await numberOf(p.quantity, "products"), price: await numberOf(p.price, "products") }))),
  };
}

const sum = (products: DraftProduct[]) => products.reduce((s, p) => s + plainNumber(p.quantity) * plainNumber(p.price), 0);

/** The draft with other products; its amount follows where it does. */
export function withProducts(deal: DealDraft, products: DraftProduct[]): DealDraft {
  const total = sum(products);
  return { ...deal, products, amount: deal.follows && !Number.isNaN(total) ? asPlain(Math.round(total * 100) / 100) : deal.amount };
}

const priceIn = (list: Sheet["products"], p: DraftProduct, currency: string) => {
  const listed = list.find((k) => k.key === p.product)?.prices[currency];
  return listed === undefined ? p.price : asPlain(listed);
};

/** The draft in another currency, with the prices of the list in it; a product that has none keeps its number. */
export function inCurrency(deal: DealDraft, currency: string, list: Sheet["products"]): DealDraft {
  const products = deal.products.map((p) => ({ ...p, price: priceIn(list, p, currency) }));
  return withProducts({ ...deal, currency }, products);
}

/** What the deal is worth as it is written; 0 for nothing, NaN while that is in doubt. */
export const amountOf = (deal: DealDraft) => plainNumber(deal.amount.trim() || "0");

/** How many of the facts arrive, and how many are left by a choice. */
export function count(lines: Line[], choices: Choices) {
  const dropped = lines.filter((l) => choices.drop.includes(l.field)).length;
  const stays = lines.filter((l) => l.differs && !choices.drop.includes(l.field) && !choices.take.includes(l.field)).length;
  return { known: lines.length, carried: lines.length - dropped - stays, dropped, stays };
}
