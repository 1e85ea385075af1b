// @vitest-environment happy-dom
import { QueryClientProvider, useQuery } from "@tanstack/react-query";
import { act, createElement as h } from "react";
import { createRoot, type Root } from "react-dom/client";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { api, must } from "../api/client";
import { Away, makeQueries } from "./Away";

let root: Root;
let page: HTMLElement;
let answers: (() => Response)[];
let asked: number;

const answer = (status: number, body: unknown, after?: string) => () =>
  new Response(JSON.stringify(body), { status, headers: { "Content-Type": "application/json", ...(after && { "Retry-After": after }) } });

const away = (after?: string) => answer(503, { type: "/problems/database-away" }, after);

const gone = () => {
  throw new TypeError("no way to the server");
};

function Desk() {
  const desk = useQuery({ queryKey: ["desk"], queryFn: () => must(api.GET("/api/desk", { baseUrl: "http://lantern.example", fetch: async () => answers[Math.min(asked++, answers.length - 1)]!() })) });
  return h("p", null, desk.isError ? `refused: ${desk.error.message}` : desk.data ? "the desk" : "loading");
}

async function opened(...given: (() => Response)[]) {
  answers = given;
  asked = 0;
  await act(async () => root.render(h(QueryClientProvider, { client: makeQueries() }, h(Desk), h(Away))));
  await later(0);
}

const later = (ms: number) => act(() => vi.advanceTimersByTimeAsync(ms));
const strip = () => page.querySelector("[role=status]")!.textContent;

beforeEach(() => {
  vi.useFakeTimers();
  vi.stubGlobal("IS_REACT_ACT_ENVIRONMENT", true);
  page = document.createElement("div");
  root = createRoot(page);
});

afterEach(() => {
  act(() => root.unmount());
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

test("a question that finds the database away is asked again when the server says, and the page says so until then", async () => {
  await opened(away("5"), away("5"), answer(200, {}));
  expect(strip()).toContain("asks again by itself");
  await later(4900);
  expect(asked).toBe(1);
  await later(200);
  expect(asked).toBe(2);
  expect(strip()).toContain("asks again by itself");
  await later(5000);
  expect(page.querySelector("p")!.textContent).toBe("the desk");
  expect(strip()).toBe("");
});

test("a server that cannot be reached is asked again in growing pauses, however long it takes", async () => {
  await opened(...Array.from({ length: 20 }, () => gone), answer(200, {}));
  expect(strip()).toContain("does not answer");
  await later(3100);
  expect(asked).toBe(3);
  await later(200_000);
  expect(page.querySelector("p")!.textContent).toBe("the desk");
});

test("a refusal stands and is not asked again", async () => {
  await opened(answer(403, { type: "/problems/right-missing", detail: "Your role may not do this." }), answer(200, {}));
  await later(60_000);
  expect(asked).toBe(1);
  expect(page.querySelector("p")!.textContent).toBe("refused: Your role may not do this.");
  expect(strip()).toBe("");
});
