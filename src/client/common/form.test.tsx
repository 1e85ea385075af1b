// @vitest-environment happy-dom
import { act } from "react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { ApiError } from "../api/client";
import { TextBox } from "../parts/Field";
import { box, clear, draw, hasButton, key, press, redraw, said, someone, write } from "../testing/render";
import { useForm } from "./form";
import { FormBox } from "./FormBox";
import { unsavedNow } from "./unsaved";

type Values = { subject: string; why: string };

let sent: Values[];
let answer: () => Promise<unknown>;
let left: number;

function Task({ lead = "l1", subject = "", why = "usual", onLeave }: { lead?: string; subject?: string; why?: string; onLeave?: () => void }) {
  const form = useForm<Values>({ called: "the task", name: `task:${lead}`, initial: { subject, why } });
  return (
    <FormBox
      form={form}
      words="Keep"
      onLeave={onLeave}
      onSend={() =>
        form.send(
          (values) => {
            sent.push(values);
            return answer();
          },
          { changes: [] },
        )
      }
    >
      <TextBox label="Subject" {...form.bind("subject")} />
      <TextBox label="Why" {...form.bind("why")} lines={3} />
    </FormBox>
  );
}

beforeEach(() => {
  localStorage.clear();
  sent = [];
  left = 0;
  answer = async () => undefined;
});

afterEach(clear);

const stored = () => Object.fromEntries(Object.keys(localStorage).map((k) => [k, (JSON.parse(localStorage.getItem(k)!) as { value: unknown }).value]));

test("what is typed is kept for the person and the record, and only what was changed", async () => {
  await draw(<Task />);
  await write("Subject", "Ring back");
  expect(stored()).toEqual({ "typed:p1:task:l1": { subject: "Ring back" } });
  expect(unsavedNow()).toEqual(["the task"]);
  await clear();
  expect(unsavedNow()).toEqual([]);
  // Somebody changed the rest meanwhile.
  await draw(<Task why="new" />);
  expect([box("Subject").value, box("Why").value]).toEqual(["Ring back", "new"]);
  expect(said()).toContain("not saved then");
});

test("another record and another person have drafts of their own", async () => {
  await draw(<Task />);
  await write("Subject", "Ring back");
  await redraw(<Task lead="l2" />);
  expect(box("Subject").value).toBe("");
  await redraw(<Task lead="l1" />);
  expect(box("Subject").value).toBe("Ring back");
  await clear();
  await draw(<Task />, { ...someone, id: "p2" });
  expect(box("Subject").value).toBe("");
});

test("written back to what it was it is no draft", async () => {
  await draw(<Task subject="Ring" />);
  await write("Subject", "Ring back");
  await write("Subject", "Ring");
  expect(stored()).toEqual({});
  expect(unsavedNow()).toEqual([]);
});

test("sent, it is forgotten; refused, it stays and says at its field why", async () => {
  await draw(<Task />);
  await write("Subject", "Ring back");
  answer = async () => Promise.reject(new ApiError("Nobody to ring.", 400, "/problems/x", "subject"));
  await press("Keep");
  expect(said()).toContain("Nobody to ring.");
  expect(box("Subject").getAttribute("aria-invalid")).toBe("true");
  expect(stored()).not.toEqual({});
  answer = async () => undefined;
  await press("Keep");
  expect(sent).toEqual([{ subject: "Ring back", why: "usual" }, { subject: "Ring back", why: "usual" }]);
  expect(box("Subject").value).toBe("");
  expect(stored()).toEqual({});
  expect(said()).not.toContain("Nobody to ring.");
});

test("a refusal that belongs to no field stands under the form", async () => {
  await draw(<Task />);
  await write("Subject", "Ring back");
  answer = async () => Promise.reject(new ApiError("Somebody else has it.", 409, "/problems/x"));
  await press("Keep");
  expect(document.querySelector("[role=alert]")!.textContent).toBe("Somebody else has it.");
});

test("a second press while it is sent sends nothing", async () => {
  let done: () => void = () => undefined;
  answer = () => new Promise<void>((r) => (done = r));
  await draw(<Task />);
  await write("Subject", "Ring back");
  await press("Keep");
  await press("Keep");
  await key(box("Subject"), "Enter", { ctrlKey: true });
  expect(sent).toHaveLength(1);
  await act(async () => done());
});

test("Ctrl+Enter sends it from a box of several lines; Enter alone does not", async () => {
  await draw(<Task />);
  await write("Why", "line");
  await key(box("Why"), "Enter");
  expect(sent).toEqual([]);
  await key(box("Why"), "Enter", { ctrlKey: true });
  expect(sent).toHaveLength(1);
});

test("Esc leaves an untouched form, and asks where something was written", async () => {
  await draw(<Task onLeave={() => left++} />);
  await key(box("Subject"), "Escape");
  expect(left).toBe(1);
  await write("Subject", "Ring back");
  await key(box("Subject"), "Escape");
  expect(left).toBe(1);
  expect(said()).toContain("It can wait here for you.");
  await press("Go on writing");
  expect(hasButton("Keep")).toBe(true);
  await press("Leave it");
  await press("Leave it for later");
  expect([left, Object.keys(stored())]).toEqual([2, ["typed:p1:task:l1"]]);
  await press("Leave it");
  await press("Throw it away");
  expect([left, stored()]).toEqual([3, {}]);
});

test("a store that is full or closed keeps nothing, and the form works all the same", async () => {
  const put = vi.spyOn(Storage.prototype, "setItem").mockImplementation(() => {
    throw new DOMException("full");
  });
  await draw(<Task />);
  await write("Subject", "Ring back");
  expect(box("Subject").value).toBe("Ring back");
  await press("Keep");
  expect(sent).toEqual([{ subject: "Ring back", why: "usual" }]);
  put.mockRestore();
});
