import { describe, expect, it } from "vitest";
import { about, cells, fieldOf, keyFor, moved, range, type Finding } from "./model";

const finding = (path: string): Finding => ({ problem: { code: "x", path, found: "", words: "" }, blocks: false, words: "" }) as Finding;

describe("a model on the screen", () => {
  it("moves an item to another place", () => expect(moved(["a", "b", "c"], 0, 2)).toEqual(["b", "c", "a"]));

  it("gives a range that always holds nothing", () =>
    expect(range({ lines: [{ points: 12 }, { points: 30 }] } as never)).toEqual({ least: 0, most: 30 }));

  it("finds what is said of a criterion with its lines, and not of the next one", () =>
    expect(about([finding("fit/1"), finding("fit/1/lines/0"), finding("fit/10")], "fit/1")).toHaveLength(2));

  it("makes a key that nobody has", () => expect(keyFor("Größe & Rolle", ["grosse_rolle", "gro_e_rolle"])).not.toBe("gro_e_rolle"));

  it("finds the field a condition asks first", () => expect(fieldOf({ all: [{ not: { field: "country", is: "known", values: [] } }] })).toBe("country"));

  it("counts the same leads however wide the cells are", () => {
    const map = [{ fit: 100, engagement: 100, leads: 2 }, { fit: 0, engagement: 63, leads: 3 }, { fit: 59, engagement: 4, leads: 5 }];
    for (const width of [1, 3, 5, 10]) expect(cells(map, width).reduce((n, c) => n + c.leads, 0)).toBe(10);
  });
});
