import { expect, test } from "vitest";
import { listedFor } from "./listed";

const options = [
  { key: "NO", label: "Norway" },
  { key: "CI", label: "Côte d'Ivoire" },
  { key: "DO", label: "Dominican Republic" },
  { key: "MN", label: "Mongolia" },
];

test("what begins with the text comes before what holds it", () => {
  expect(listedFor(options, "no").map((o) => o.key)).toEqual(["NO"]);
  expect(listedFor(options, "do").map((o) => o.key)).toEqual(["DO"]);
  expect(listedFor(options, "o").map((o) => o.key)).toEqual(["NO", "CI", "DO", "MN"]);
  expect(listedFor(options, "mo").map((o) => o.key)).toEqual(["MN"]);
});

test("marks on letters are no matter, and nothing typed is everything", () => {
  expect(listedFor(options, "cote").map((o) => o.key)).toEqual(["CI"]);
  expect(listedFor(options, " ")).toHaveLength(4);
});
