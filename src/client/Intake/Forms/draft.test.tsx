// @vitest-environment happy-dom
import { act, useEffect } from "react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import type { Schema } from "../../api/client";
import { answer, away, refuse } from "../../testing/answers";
import { clear, draw } from "../../testing/render";
import { useDraft, type Sheet } from "./queries";

vi.mock("../../parts/Toast", () => ({ tellError: vi.fn() }));

let form: ReturnType<typeof useDraft>;
let puts: { body: unknown; version: string }[];
let says: unknown;

const named = (title: string) => ({ labels: [title] }) as unknown as Sheet;

function Builder() {
  const now = useDraft({ key: "survey", version: 3, draft: named("as it was"), problems: [] } as unknown as Schema["FormView"]);
  useEffect(() => void (form = now));
  return null;
}

beforeEach(async () => {
  vi.useFakeTimers();
  puts = [];
  says = undefined;
  answer({
    "PUT /api/forms/{key}/draft": ({ body, headers }) => {
      if (says) return says;
      puts.push({ body, version: headers["If-Match"]! });
      return { version: 3 + puts.length, problems: [{ path: "labels", sentence: "One is missing." }] };
    },
  });
  await draw(<Builder />);
});

afterEach(async () => {
  await clear();
  vi.useRealTimers();
  vi.restoreAllMocks();
});

const write = (title: string) => act(async () => form.setDraft(named(title)));
const pass = (ms: number) => act(async () => void (await vi.advanceTimersByTimeAsync(ms)));

test("what is written is kept once writing pauses, each time against the version before", async () => {
  await write("a");
  await write("ab");
  expect(form.state).toBe("keeping");
  await pass(600);
  expect(form.state).toBe("kept");
  expect(form.problems).toHaveLength(1);
  await write("abc");
  await pass(600);
  expect(puts).toEqual([
    { body: named("ab"), version: '"3"' },
    { body: named("abc"), version: '"4"' },
  ]);
});

test("while the server is away it is not said to be kept, and is sent when it is back", async () => {
  says = away;
  await write("a");
  await pass(600);
  expect(form.state).toBe("keeping");
  says = undefined;
  await pass(6000);
  expect(form.state).toBe("kept");
  expect(puts.map((p) => p.body)).toEqual([named("a")]);
});

test("what was written in the last moment before the page is left is sent", async () => {
  await write("a");
  await clear();
  await vi.advanceTimersByTimeAsync(0);
  expect(puts.map((p) => p.body)).toEqual([named("a")]);
});

test("after somebody else's change nothing of theirs is overwritten", async () => {
  says = refuse(412, "Somebody else changed it.");
  await write("a");
  await pass(600);
  expect(form.state).toBe("stale");
  says = undefined;
  await write("ab");
  await pass(6000);
  expect(form.state).toBe("stale");
  expect(puts).toEqual([]);
});
