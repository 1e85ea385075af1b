import { expect, test } from "vitest";
import { amountOf, count, draftOf, inCurrency, settle, withProducts, type DealDraft, type Line, type Sheet } from "./landing";

const sheet = {
  role: "buyer",
  accounts: [
    { id: "a1", same: false },
    { id: "a2", same: true },
  ],
  contacts: [{ id: "c1", same: false }],
  proposals: [
    { pipeline: "first", name: "Laks - Buoy - Nov", amount: 12_000.5, currency: "NOK", expectedClose: "2027-01-31", products: [{ product: "buoy", quantity: 2, price: null }] },
    { pipeline: "second", name: "Laks", amount: null, currency: "EUR", expectedClose: "", products: [] },
  ],
  products: [
    { key: "buoy", prices: { EUR: 100, NOK: 1150 } },
    { key: "probe", prices: { EUR: 9.95 } },
  ],
} as unknown as Sheet;

const deal = (products: DealDraft["products"], more: Partial<DealDraft> = {}): DealDraft => ({ ...draftOf(sheet, "second"), products, ...more });

test("what is surely the same is linked, unless the person says otherwise", () => {
  expect(settle(sheet, {})).toEqual({ account: "a2", contact: null });
  expect(settle(sheet, { account: "a1", contact: "c1" })).toEqual({ account: "a1", contact: "c1" });
  expect(settle(sheet, { newAccount: true, contact: "c1", newContact: true })).toEqual({ account: null, contact: null });
  expect(settle(sheet, { makes: "none", account: "a1" }).account).toBeNull();
  expect(settle(sheet, { makes: "household" }).account).toBe("a2");
});

test("the deal is the one proposed for the pipeline, else for the first", () => {
  expect(draftOf(sheet, "second")).toMatchObject({ pipeline: "second", amount: "", currency: "EUR", role: "buyer", follows: true });
  expect(draftOf(sheet, "gone")).toMatchObject({ pipeline: "first", name: "Laks - Buoy - Nov", amount: "12000.5", products: [{ product: "buoy", quantity: "2", price: "0" }] });
  expect(draftOf({ ...sheet, proposals: [] }, "first")).toMatchObject({ pipeline: "", currency: "EUR", products: [] });
});

test("the amount follows the products until somebody writes one", () => {
  const products = [
    { product: "buoy", quantity: "3", price: "99.90" },
    { product: "probe", quantity: "1", price: "1000" },
  ];
  expect(withProducts(deal([]), products).amount).toBe("1299.7");
  expect(withProducts(deal([], { follows: false, amount: "5" }), products).amount).toBe("5");
  // Half-written numbers leave it as it is.
  expect(withProducts(deal([], { amount: "7" }), [{ product: "buoy", quantity: "two", price: "5" }]).amount).toBe("7");
  expect(withProducts(deal(products, { amount: "7" }), []).amount).toBe("0");
});

test("in another currency the list's prices hold, and what has none keeps its number", () => {
  const kept = inCurrency(
    deal([
      { product: "buoy", quantity: "2", price: "100" },
      { product: "probe", quantity: "1", price: "9.95" },
      { product: "own words", quantity: "1", price: "40" },
    ]),
    "NOK",
    sheet.products,
  );
  expect(kept.products.map((p) => p.price)).toEqual(["1150", "9.95", "40"]);
  expect([kept.currency, kept.amount]).toEqual(["NOK", "2349.95"]);
});

test("an amount that can be read in two ways, or not yet, is none", () => {
  expect(amountOf(deal([], { amount: "12000.50" }))).toBe(12_000.5);
  expect(amountOf(deal([], { amount: "12,000" }))).toBeNaN();
  expect(amountOf(deal([], { amount: "" }))).toBe(0);
  expect(amountOf(deal([], { amount: "much" }))).toBeNaN();
});

test("each fact is carried, left behind by a choice, or stays with what is there", () => {
  const lines = [{ field: "city", differs: true }, { field: "phone", differs: true }, { field: "interest", differs: false }, { field: "email", differs: false }] as Line[];
  expect(count(lines, { take: [], drop: [] })).toEqual({ known: 4, carried: 2, dropped: 0, stays: 2 });
  expect(count(lines, { take: ["city"], drop: ["interest"] })).toEqual({ known: 4, carried: 2, dropped: 1, stays: 1 });
  // What is dropped is dropped once, whatever it differs in.
  expect(count(lines, { take: ["city"], drop: ["city", "phone"] })).toEqual({ known: 4, carried: 2, dropped: 2, stays: 0 });
});
