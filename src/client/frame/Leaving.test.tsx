// @vitest-environment happy-dom
import { act } from "react";
import { createMemoryRouter, Outlet, RouterProvider, useNavigate } from "react-router";
import { afterEach, beforeEach, expect, test } from "vitest";
import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import { TextBox } from "../parts/Field";
import { box, clear, draw, hasButton, press, said, write } from "../testing/render";
import { Leaving } from "./Leaving";

function Note() {
  const navigate = useNavigate();
  const form = useForm({ called: "the note", name: "note:l1", initial: { text: "" } });
  const send = () => form.send(async () => undefined, { changes: [], then: () => void navigate("/next") });
  return (
    <FormBox form={form} words="Keep" onSend={send}>
      <TextBox label="Note" {...form.bind("text")} />
    </FormBox>
  );
}

const routes = [
  {
    path: "/",
    element: (
      <>
        <Leaving />
        <Outlet />
      </>
    ),
    children: [
      { path: "note", element: <Note /> },
      { path: "next", element: <p>the next page</p> },
    ],
  },
];

let router: ReturnType<typeof createMemoryRouter>;

const go = (to: string | number) => act(async () => void (await router.navigate(to as string)));

// What is loaded later is there a moment after.
const loaded = () => act(async () => void (await import("./LeavingDialog")));

beforeEach(async () => {
  localStorage.clear();
  router = createMemoryRouter(routes, { initialEntries: ["/note"] });
  await draw(<RouterProvider router={router} />);
});

afterEach(clear);

test("a page with nothing unsaved is left at once", async () => {
  await go("/next");
  expect(said()).toContain("the next page");
});

test("with something unsaved it asks by its name, and stays where one goes on writing", async () => {
  await write("Note", "Rang twice");
  await go("/next");
  await loaded();
  expect(said()).toContain("You have not saved the note.");
  await press("Go on writing");
  expect(box("Note").value).toBe("Rang twice");
  expect(hasButton("Go on writing")).toBe(false);
});

test("left for later, it stands there again", async () => {
  await write("Note", "Rang twice");
  await go("/next");
  await loaded();
  await press("Leave it for later");
  expect(said()).toContain("the next page");
  await go("/note");
  expect(box("Note").value).toBe("Rang twice");
});

test("saved, it goes on in the same moment without a question", async () => {
  await write("Note", "Rang twice");
  await press("Keep");
  expect(said()).toBe("the next page");
});
