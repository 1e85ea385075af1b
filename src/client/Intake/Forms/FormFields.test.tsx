// @vitest-environment happy-dom
import { useState } from "react";
import { afterEach, expect, test, vi } from "vitest";
import type { Schema } from "../../api/client";
import { button, clear, draw, hasButton, press, said } from "../../testing/render";
import { FormFields } from "./FormFields";
import type { Sheet, Words } from "./queries";

afterEach(async () => {
  await clear();
  vi.restoreAllMocks();
});

const choices = ["email", "company", "country"].map((key) => ({ key, label: key, type: "text", choices: [] })) as unknown as Schema["FormFieldChoice"][];

function Builder({ fields, problems = [] }: { fields: string[]; problems?: Schema["DraftProblem"][] }) {
  const [draft, setDraft] = useState({ fields: fields.map((key) => ({ key, required: false, lines: false })), consents: [], text: { fields: {}, hints: {} } } as unknown as Sheet);
  return (
    <>
      <FormFields draft={draft} words={{ fields: {}, hints: {} } as unknown as Words} choices={choices} problems={problems} onDraft={setDraft} onWords={() => undefined} formKey="f" live={false} />
      <output>{draft.fields.map((f) => f.key + (f.required ? "!" : "")).join(" ")}</output>
    </>
  );
}

const order = () => document.querySelector("output")!.textContent;

test("questions are moved up and down, and the ends go no further", async () => {
  await draw(<Builder fields={["email", "company", "country"]} />);
  expect(button("Move email up").disabled).toBe(true);
  expect(button("Move country down").disabled).toBe(true);
  await press("Move email down");
  expect(order()).toBe("company email country");
  await press("Move country up");
  expect(order()).toBe("company country email");
});

test("a question is taken off, and what is wrong with them is said", async () => {
  await draw(<Builder fields={["email", "company"]} problems={[{ path: "fields", sentence: "Ask for an email address or a telephone number." }]} />);
  expect(said()).toContain("Ask for an email address or a telephone number.");
  await press("Leave out email");
  expect(order()).toBe("company");
  expect(hasButton("Leave out email")).toBe(false);
});
