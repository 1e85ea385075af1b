import { createConfig, lintFromString } from "@redocly/openapi-core";
import { readFileSync } from "node:fs";
import { expect, test } from "vitest";

const source = readFileSync("api/openapi.json", "utf8");

test("the description keeps to the recommended rules", async () => {
  const problems = await lintFromString({ source, absoluteRef: "openapi.json", config: await createConfig({ extends: ["recommended"] }) });
  expect(problems.map((p) => `${p.severity} ${p.ruleId}: ${p.message} ${p.location[0]?.pointer}`)).toEqual([]);
});

type Operation = { operationId?: string; security?: Record<string, string[]>[]; responses: Record<string, unknown>; parameters?: { name: string; in: string }[] };
type Description = { paths: Record<string, Record<string, Operation>>; components: { securitySchemes: Record<string, unknown> } };

test("each operation has a name of its own, says who may call it, and how it refuses", () => {
  const { paths, components } = JSON.parse(source) as Description;
  const all = Object.entries(paths).flatMap(([path, operations]) => Object.entries(operations).map(([method, operation]) => ({ path, method, ...operation })));
  expect(new Set(all.map((o) => o.operationId)).size).toBe(all.length);
  expect(all.filter((o) => !/^[a-z][A-Za-z0-9]+$/.test(o.operationId ?? ""))).toEqual([]);
  const of = (path: string, method: string) => all.find((o) => o.path === path && o.method === method)!;
  expect(of("/api/session", "post").security).toEqual([]);
  expect(of("/api/leads", "get").security).toEqual([{ session: [] }]);
  expect(of("/api/leads", "post").security).toEqual([{ session: [], guard: [] }]);
  expect(of("/api/v1/leads", "post").security).toEqual([{ token: [] }]);
  expect(Object.keys(components.securitySchemes).sort()).toEqual(["guard", "session", "token"]);
  const change = of("/api/leads/{id}", "patch");
  expect(change.operationId).toBe("leadEdit");
  expect(change.parameters!.filter((p) => p.in === "header").map((p) => p.name)).toEqual(["If-Match", "Idempotency-Key"]);
  expect(Object.keys(change.responses)).toEqual(expect.arrayContaining(["200", "400", "401", "403", "404", "412", "422"]));
  expect(of("/api/leads", "get").parameters!.map((p) => p.name)).not.toContain("Idempotency-Key");
});
