import { describe, expect, it } from "vitest";
import type { Command } from "./commands";
import { commandsFor, continues } from "./fitting";

const command = (label: string, group = "Go to", also?: string): Command => ({ id: label, label, group, also, run: () => {} });
const all = [command("Routing"), command("Reports"), command("Do not contact"), command("Night", "Do", "dark theme")];
const labels = (text: string) => commandsFor(all, text).map((c) => c.label);

describe("what was found for a text", () => {
  it("is offered while it is typed on or taken back", () => {
    expect(continues("kina", "kinaird")).toBe(true);
    expect(continues("kinaird", "kina")).toBe(true);
    expect(continues("kinaird", "kinaird")).toBe(true);
  });
  it("is not offered for another", () => {
    expect(continues("kinaird", "your follow")).toBe(false);
    expect(continues("kinaird", "kinnaird")).toBe(false);
  });
});

describe("commands of the search box", () => {
  it("are found by the beginnings of their words, in any order", () => {
    expect(labels("rou")).toEqual(["Routing"]);
    expect(labels("contact not")).toEqual(["Do not contact"]);
  });
  it("are found by their group and their other words", () => {
    expect(labels("go r")).toEqual(["Routing", "Reports"]);
    expect(labels("dark")).toEqual(["Night"]);
  });
  it("are none for a blank, nor where one word fits nothing", () => {
    expect(labels("  ")).toEqual([]);
    expect(labels("rou xyz")).toEqual([]);
  });
});
