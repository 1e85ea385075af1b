// @vitest-environment happy-dom
import { useQuery } from "@tanstack/react-query";
import { act } from "react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { keys } from "../common/keys";
import { answer, refuse, type Call } from "../testing/answers";
import { box, clear, draw, key, press, queries, said, write } from "../testing/render";
import { Facts } from "./Facts";
import type { Sheet } from "./queries";

vi.mock("../parts/Toast", () => ({ tell: vi.fn(), tellError: vi.fn(), forgetErrors: vi.fn() }));

// The lead as the server has it.
let lead: Sheet;
let calls: Call[];

const of = (title: string, city: string, version: number) =>
  ({
    id: "l1",
    version,
    ownerId: "p1",
    became: null,
    sourceName: "Fair",
    facts: [
      { key: "job_title", label: "Job title", stored: title, value: title, choices: [] },
      { key: "city", label: "Place", stored: city, value: city, choices: [] },
    ],
    score: { unknown: [] },
    qualifying: { questions: [] },
  }) as unknown as Sheet;

beforeEach(() => {
  lead = of("Keeper", "Bergen", 1);
  calls = answer({
    "GET /api/leads/{id}": () => lead,
    "PATCH /api/leads/{id}": ({ headers, body }) => {
      if (headers["If-Match"] !== `"${lead.version}"`) return refuse(412, "Somebody else changed it.");
      const { job_title: title, city } = (body as { facts: Record<string, string> }).facts;
      return (lead = of(title ?? lead.facts[0]!.stored!, city ?? lead.facts[1]!.stored!, lead.version + 1));
    },
  });
});

afterEach(async () => {
  await clear();
  vi.restoreAllMocks();
});

function Page() {
  const shown = useQuery({ queryKey: keys.lead("l1"), queryFn: () => lead, staleTime: Infinity });
  return shown.data ? <Facts lead={shown.data} ask={0} /> : null;
}

const written = () => calls.filter((c) => c.to.startsWith("PATCH")).map((c) => [c.headers["If-Match"], (c.body as { facts: unknown }).facts]);
const settled = () => act(async () => void (await new Promise((r) => setTimeout(r, 20))));

// What somebody writes into the box of the job title; meanwhile others may have written.
async function writes(title: string, meanwhile: () => void) {
  await draw(<Page />);
  await settled();
  await press("Job title: Keeper, change");
  await write("Job title", title);
  meanwhile();
  await key(box("Job title"), "Enter");
  await settled();
}

test("a fact is written against the version it was read from", async () => {
  await writes("Harbour master", () => undefined);
  expect(written()).toEqual([['"1"', { job_title: "Harbour master" }]]);
  expect(said()).toContain("Harbour master");
});

test("where another fact of the lead changed meanwhile, this one is written to the lead as it is then", async () => {
  await writes("Harbour master", () => (lead = of("Keeper", "Stord", 2)));
  expect(written()).toEqual([
    ['"1"', { job_title: "Harbour master" }],
    ['"2"', { job_title: "Harbour master" }],
  ]);
  expect(lead.facts.map((f) => f.value)).toEqual(["Harbour master", "Stord"]);
});

test("where the same fact changed meanwhile both are shown, and theirs stays unless one puts one's own", async () => {
  await writes("Harbour master", () => (lead = of("Buoy keeper", "Bergen", 2)));
  expect(said()).toContain("Job title was changed meanwhile");
  expect(said()).toContain("TheirsBuoy keeper");
  expect(said()).toContain("YoursHarbour master");
  await press("Keep theirs");
  await settled();
  expect(lead.facts[0]!.value).toBe("Buoy keeper");
  expect(written()).toHaveLength(1);
});

test("one's own is put over theirs by a press, against their version", async () => {
  await writes("Harbour master", () => {
    lead = of("Buoy keeper", "Bergen", 2);
    // It came here too before the box was left.
    queries.setQueryData(keys.lead("l1"), lead);
  });
  expect(written()).toEqual([]);
  await press("Put yours");
  await settled();
  expect(written()).toEqual([['"2"', { job_title: "Harbour master" }]]);
  expect(lead.facts[0]!.value).toBe("Harbour master");
});
