import { expect, test } from "vitest";
import { always, fromShortcuts } from "../Conditions/conditions";
import type { View } from "./views";
import { readWork, whereOf, writeColumns } from "./work";

const hot = { field: "fit", is: "at-least", values: ["60"] };
const view = (id: string, body: object) => ({ id, name: id, body }) as unknown as View;
const views = [
  view("open", { where: { all: [] }, order: "-created_at", columns: [{ field: "owner" }], group: null, dense: false }),
  view("hot", { where: hot, order: "-fit", columns: [{ field: "fit", width: 90 }], group: "owner", dense: true }),
];
const read = (query: string) => readWork(new URLSearchParams(query), views);

test("without anything said the first view is shown as it is", () => {
  expect(read("")).toMatchObject({ view: views[0], order: "-created_at", group: null, dense: false, show: "rows", changed: false });
  expect(read("view=gone").view).toBe(views[0]);
});

test("a view is shown with what was changed about it", () => {
  expect(read("view=hot")).toMatchObject({ where: hot, order: "-fit", group: "owner", dense: true, columns: [{ field: "fit", width: 90 }], changed: false });
  const changed = read(`view=hot&order=last_name&group=none&dense=0&columns=owner,city:140&where=${encodeURIComponent(JSON.stringify(always))}`);
  expect(changed).toMatchObject({ view: views[1], where: always, order: "last_name", group: null, dense: false, changed: true });
  expect(changed.columns).toEqual([
    { field: "owner", width: null },
    { field: "city", width: 140 },
  ]);
});

test("columns go into the address and come back", () => {
  const columns = [{ field: "owner" }, { field: "city", width: 140 }];
  expect(writeColumns(columns)).toBe("owner,city:140");
  expect(read(`columns=${writeColumns(columns)}`).columns.map((c) => [c.field, c.width ?? null])).toEqual([["owner", null], ["city", 140]]);
});

test("what other screens link to by short words is no view", () => {
  const linked = read("country=NO&fit=60");
  expect(linked.view).toBeUndefined();
  expect(linked.where).toEqual(fromShortcuts(new URLSearchParams("country=NO&fit=60")));
  expect(linked.changed).toBe(false);
});

test("a condition that cannot be read shows the usual one and breaks nothing", () => {
  expect(read("where=%7Bbroken").where).toEqual(always);
  expect(read("view=hot&where=%7Bbroken").where).toEqual(hot);
});

test("a search within a view asks both; a search of its own asks every lead", () => {
  const within = read("view=hot&text=ragna%20laks");
  expect(whereOf(within)).toMatchObject({ all: [hot, { any: expect.any(Array) }, { any: expect.any(Array) }] });
  const alone = read("text=ragna");
  expect(alone.view).toBeUndefined();
  expect(alone.where).toEqual({ all: [] });
  expect(whereOf(read("view=hot"))).toBe(read("view=hot").where);
});

test("counts and the month are asked for by name only", () => {
  expect(["counts", "month", "pictures"].map((s) => read(`show=${s}`).show)).toEqual(["counts", "month", "rows"]);
});
