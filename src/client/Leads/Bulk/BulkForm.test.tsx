// @vitest-environment happy-dom
import { act } from "react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { whole } from "../../parts/format";
import { answer, away, refuse, type Call } from "../../testing/answers";
import { button, clear, draw, hasButton, said, until } from "../../testing/render";
import { BulkForm } from "./BulkForm";

vi.mock("../../parts/Toast", () => ({ tell: vi.fn(), tellError: vi.fn(), forgetErrors: vi.fn() }));

let calls: Call[];
let preview: unknown;
let ordered: unknown;
let events: string[];

const would = (changed: number, more: object = {}) => ({ leads: 5, looked: 5, changed, same: 0, left: [], samples: [], ...more });

beforeEach(() => {
  events = [];
  preview = would(3, { same: 2 });
  ordered = { id: "e1", state: "doing" };
  calls = answer({ "POST /api/bulk-edits/preview": () => preview, "POST /api/bulk-edits": () => ordered });
});

afterEach(async () => {
  await clear();
  vi.restoreAllMocks();
});

const shown = () => draw(<BulkForm kind="remove" which={{ leads: ["a", "b", "c", "d", "e"] }} onClose={() => events.push("closed")} onOrdered={(id) => events.push(id)} />);

const orders = () => calls.filter((c) => c.to === "POST /api/bulk-edits");

test("what would change is shown before anything can be ordered", async () => {
  await shown();
  expect(button("Remove").hasAttribute("disabled")).toBe(true);
  await until(() => hasButton("Remove: 3 leads"));
  expect(said()).toContain("3 leads would be removed, 2 are so already.");
  expect(button("Remove: 3 leads").hasAttribute("disabled")).toBe(false);
  expect(orders()).toEqual([]);
});

test("two presses are one order", async () => {
  await shown();
  await until(() => hasButton("Remove: 3 leads"));
  await act(async () => {
    button("Remove: 3 leads").click();
    button("Remove: 3 leads").click();
  });
  await until(() => events.length > 0);
  expect(orders().map((o) => o.body)).toEqual([{ leads: ["a", "b", "c", "d", "e"], act: { kind: "remove" } }]);
  expect(events).toEqual(["e1", "closed"]);
});

test("an order that was not answered goes with the same key when it is pressed again", async () => {
  await shown();
  await until(() => hasButton("Remove: 3 leads"));
  ordered = away;
  await act(async () => button("Remove: 3 leads").click());
  await until(() => orders().length === 1);
  expect(events).toEqual([]);
  ordered = { id: "e1", state: "doing" };
  await act(async () => button("Remove: 3 leads").click());
  await until(() => events.length > 0);
  const [first, second] = orders();
  expect(first!.headers["Idempotency-Key"]).toBe(second!.headers["Idempotency-Key"]);
  expect(events).toEqual(["e1", "closed"]);
});

test("where nothing would change nothing can be ordered; where it may not be done it is said", async () => {
  preview = would(0, { same: 5 });
  await shown();
  await until(() => said().includes("0 leads would be removed, 5 are so already."));
  expect(button("Remove").hasAttribute("disabled")).toBe(true);
  await clear();
  preview = refuse(403, "This view does not permit it.");
  await shown();
  await until(() => !said().includes("looking"));
  expect(said()).toContain("This view does not permit it.");
  expect(button("Remove").hasAttribute("disabled")).toBe(true);
  expect(hasButton("Leave it")).toBe(true);
});

test("of a list too long to look through it is said how many were looked at", async () => {
  preview = would(180, { looked: 200, leads: 1200 });
  await shown();
  await until(() => !said().includes("looking"));
  expect(said()).toContain(`Of the first 200 of ${whole(1200)}: 180 leads would be removed.`);
  expect(hasButton(`Remove: ${whole(1200)} leads`)).toBe(true);
});
