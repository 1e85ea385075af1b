import { vi } from "vitest";
import { api } from "../api/client";

/** A call of the API as it was made. */
export type Call = { to: string; path: Record<string, string>; query: Record<string, unknown>; headers: Record<string, string>; body: unknown };

type Made = { params?: { path?: Record<string, string>; query?: Record<string, unknown> }; headers?: Record<string, string>; body?: unknown };

class Refusal {
  constructor(
    readonly status: number,
    readonly problem: { type?: string; detail?: string; field?: string },
  ) {}
}

/** What a call is refused with. */
export const refuse = (status: number, detail: string, field?: string) => new Refusal(status, { type: "/problems/test", detail, field });

/** The line to the server is down. */
export const away = Symbol("away");

/** Answers calls by a table, as `"PATCH /api/leads/{id}"`; gives the calls as they come. What is not in the table is an error of the test. */
export function answer(table: Record<string, (call: Call) => unknown>): Call[] {
  const calls: Call[] = [];
  for (const method of ["GET", "POST", "PUT", "PATCH", "DELETE"] as const)
    vi.spyOn(api, method).mockImplementation((async (path: string, made: Made = {}) => {
      const call = { to: `${method} ${path}`, path: made.params?.path ?? {}, query: made.params?.query ?? {}, headers: made.headers ?? {}, body: structuredClone(made.body) };
      calls.push(call);
      const found = table[call.to];
      if (!found) throw new Error(`nothing answers ${call.to}`);
      const said = await found(call);
      if (said === away) throw new TypeError("Failed to fetch");
      return said instanceof Refusal ? { error: said.problem, response: new Response(null, { status: said.status }) } : { data: said, response: new Response() };
    }) as never);
  return calls;
}
