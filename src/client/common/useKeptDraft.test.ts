// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, createElement } from "react";
import { createRoot, type Root } from "react-dom/client";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { ApiError } from "../api/client";
import { useKeptDraft, type OnServer } from "./useKeptDraft";

const told = vi.hoisted(() => vi.fn());
vi.mock("../parts/Toast", () => ({ tellError: told }));

// A server that keeps one draft, and refuses as it is told to.
function server() {
  const state = { draft: null as OnServer<string> | null, refuses: null as ApiError | null, puts: [] as string[], live: "as it was" };
  const guard = (version: string) => {
    if (state.refuses) throw state.refuses;
    if (version !== `"${state.draft?.version ?? 0}"`) throw new ApiError("Somebody else changed it.", 412, "stale");
  };
  return {
    state,
    door: () => ({
      key: ["sheet"],
      live: state.live,
      draft: state.draft,
      draftOf: (view: { draft: OnServer<string> | null }) => view.draft,
      fetch: async () => ({ draft: state.draft }),
      keep: async (next: { body: string; note: string }, version: string) => {
        guard(version);
        state.puts.push(next.body);
        state.draft = { ...next, version: (state.draft?.version ?? 0) + 1 };
        return { version: state.draft.version };
      },
      drop: async () => void (state.draft = null),
      publish: async (version: string) => {
        guard(version);
        state.live = state.draft!.body;
        state.draft = null;
        return { draft: null };
      },
      back: async (number: number) => {
        state.live = `edition ${number}`;
        return { draft: state.draft };
      },
    }),
  };
}

type Hook = ReturnType<typeof useKeptDraft<string, { draft: OnServer<string> | null }>>;

let root: Root;
let draft: Hook;

const unreachable = new ApiError("The server cannot be reached.", 0, "unreachable");

// Somebody at the page; what they hold of the draft is `draft`.
function opened(at = server()) {
  const Page = () => {
    draft = useKeptDraft(at.door());
    return null;
  };
  root = createRoot(document.createElement("div"));
  act(() => root.render(createElement(QueryClientProvider, { client: new QueryClient() }, createElement(Page))));
  return at;
}

const later = (ms: number) => act(() => vi.advanceTimersByTimeAsync(ms));
const change = (next: string) => act(() => draft.change(next));

beforeEach(() => {
  vi.useFakeTimers();
  vi.stubGlobal("IS_REACT_ACT_ENVIRONMENT", true);
  told.mockClear();
});

afterEach(() => {
  act(() => root.unmount());
  vi.useRealTimers();
});

test("changes in quick order are kept once, a moment after the last", async () => {
  const one = opened();
  change("a");
  change("ab");
  expect(draft.state).toBe("keeping");
  await later(499);
  expect(one.state.puts).toEqual([]);
  await later(1);
  expect(one.state.puts).toEqual(["ab"]);
  expect(draft.state).toBe("kept");
  change("abc");
  await later(500);
  expect(one.state.draft).toEqual({ body: "abc", note: "", version: 2 });
});

test("undo goes back change by change, to what is live", async () => {
  opened();
  change("a");
  change("b");
  act(() => draft.undo());
  expect(draft.body).toBe("a");
  act(() => draft.undo());
  expect(draft.body).toBe("as it was");
  expect(draft.canUndo).toBe(false);
});

test("what was changed in the last moment is kept as the page is left", async () => {
  const one = opened();
  change("a");
  await act(async () => void dispatchEvent(new Event("pagehide")));
  expect(one.state.puts).toEqual(["a"]);
});

test("who changes what somebody else has changed is told, and takes theirs", async () => {
  const one = server();
  one.state.draft = { body: "mine", note: "", version: 4 };
  opened(one);
  one.state.draft = { body: "theirs", note: "why", version: 5 };
  change("mine too");
  await later(500);
  expect(draft.state).toBe("stale");
  expect(one.state.draft.body).toBe("theirs");
  await expect(act(() => draft.publish())).rejects.toThrow("not kept yet");
  await act(() => draft.takeTheirs());
  expect([draft.body, draft.note, draft.state]).toEqual(["theirs", "why", "kept"]);
  await act(() => draft.publish());
  expect(one.state.live).toBe("theirs");
});

test("while the server cannot be reached it is tried again, told once, and the newest is kept", async () => {
  const one = opened();
  one.state.refuses = unreachable;
  change("a");
  await later(500);
  await later(5_000);
  change("b");
  await later(500);
  expect(draft.state).toBe("keeping");
  expect(told).toHaveBeenCalledTimes(1);
  one.state.refuses = null;
  await later(5_000);
  expect(one.state.puts).toEqual(["b"]);
  expect(draft.state).toBe("kept");
  await later(60_000);
  expect(one.state.puts).toEqual(["b"]);
});

test("nothing goes live without its last change", async () => {
  const one = opened();
  change("a");
  await later(500);
  one.state.refuses = new ApiError("Something broke on the server.", 500, "");
  change("ab");
  await expect(act(() => draft.publish())).rejects.toThrow("not kept yet");
  expect(one.state.live).toBe("as it was");
  one.state.refuses = null;
  await act(() => draft.publish());
  expect(one.state.live).toBe("ab");
  expect(draft.body).toBeNull();
});

test("what the server will not take is told and not tried again; the next change is", async () => {
  const one = opened();
  one.state.refuses = new ApiError("This is too long.", 400, "too-long");
  change("a very long one");
  await later(60_000);
  expect(told).toHaveBeenCalledTimes(1);
  one.state.refuses = null;
  change("short");
  await later(500);
  expect(one.state.puts).toEqual(["short"]);
});

test("a dropped draft does not come back by itself", async () => {
  const one = opened();
  one.state.refuses = unreachable;
  change("a");
  await later(500);
  await act(() => draft.drop());
  one.state.refuses = null;
  await later(60_000);
  expect(one.state.puts).toEqual([]);
  expect([draft.body, draft.state]).toEqual([null, "kept"]);
});

test("going back leaves the draft as it is", async () => {
  const one = opened();
  change("a");
  await act(() => draft.back(1));
  expect(one.state.live).toBe("edition 1");
  await later(500);
  expect([draft.body, one.state.draft?.body]).toEqual(["a", "a"]);
});

test("a file read into the draft can be undone", async () => {
  const one = opened();
  change("a");
  const problems = await act(() =>
    draft.read(async (version) => {
      expect(version).toBe('"1"');
      one.state.draft = { body: "from a file", note: "From a file", version: 2 };
      return { draft: one.state.draft, problems: ["line 3"] };
    }),
  );
  expect(problems).toEqual(["line 3"]);
  expect(draft.body).toBe("from a file");
  act(() => draft.undo());
  await later(500);
  expect(one.state.draft).toEqual({ body: "a", note: "From a file", version: 3 });
});
