import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, type ReactNode } from "react";
import { createRoot, type Root } from "react-dom/client";
import { vi } from "vitest";
import { SessionContext, type Session } from "../common/session";

/** Somebody signed in who may do everything. */
export const someone = { id: "p1", name: "Ingrid Brekke", initials: "IB", role: "Coordinator", timeZone: "Europe/Oslo", dates: "dayFirst", may: ["workLeads", "giveLeads"], ownOnly: false } as unknown as Session;

let root: Root | undefined;

/** The page as it is drawn; the client that answers its questions. */
export let page: HTMLElement;
export let queries: QueryClient;

/** Draws it on an empty page, for somebody signed in. */
export async function draw(children: ReactNode, session: Session = someone) {
  vi.stubGlobal("IS_REACT_ACT_ENVIRONMENT", true);
  queries = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  page = document.createElement("div");
  document.body.replaceChildren(page);
  root = createRoot(page);
  await redraw(children, session);
}

/** Draws something else in its place; what is the same keeps its state. */
export const redraw = (children: ReactNode, session: Session = someone) =>
  act(async () =>
    root!.render(
      <QueryClientProvider client={queries}>
        <SessionContext value={session}>{children}</SessionContext>
      </QueryClientProvider>,
    ),
  );

export async function clear() {
  await act(async () => root?.unmount());
  root = undefined;
  document.body.replaceChildren();
  vi.unstubAllGlobals();
}

const all = <E extends Element = HTMLElement>(selector: string) => [...document.querySelectorAll<E>(selector)];

export const said = () => document.body.textContent ?? "";

/** The box with this label. */
export function box(label: string): HTMLInputElement | HTMLTextAreaElement {
  const named = all<HTMLInputElement>("input, textarea").find((e) => e.getAttribute("aria-label") === label || (e.id && all<HTMLLabelElement>("label").some((l) => l.htmlFor === e.id && l.textContent === label)));
  if (!named) throw new Error(`there is no box “${label}” among: ${said()}`);
  return named;
}

export function button(words: string): HTMLButtonElement {
  const found = all<HTMLButtonElement>("button").find((b) => b.textContent === words || b.getAttribute("aria-label") === words);
  if (!found) throw new Error(`there is no button “${words}” among: ${all("button").map((b) => b.textContent).join(", ")}`);
  return found;
}

export const hasButton = (words: string) => all("button").some((b) => b.textContent === words || b.getAttribute("aria-label") === words);

/** Writes it in place of what stands in the box. */
export const write = (label: string, text: string) =>
  act(async () => {
    const to = box(label);
    to.focus();
    const kind = to instanceof HTMLTextAreaElement ? HTMLTextAreaElement : HTMLInputElement;
    Object.getOwnPropertyDescriptor(kind.prototype, "value")!.set!.call(to, text);
    to.dispatchEvent(new Event("input", { bubbles: true }));
  });

export const press = (words: string) => act(async () => button(words).click());

export const key = (at: Element, name: string, held: KeyboardEventInit = {}) => act(async () => void at.dispatchEvent(new KeyboardEvent("keydown", { key: name, bubbles: true, cancelable: true, ...held })));

export const leave = (label: string) => act(async () => box(label).blur());

/** Ticks or unticks the box whose label says so. */
export const tick = (words: string) =>
  act(async () => {
    const label = all<HTMLLabelElement>("label").find((l) => l.textContent?.trim() === words);
    if (!label) throw new Error(`there is no tick “${words}”`);
    label.querySelector("input")!.click();
  });

const patience = 4000;

/** Waits until it holds; what happens meanwhile is drawn. */
export async function until(holds: () => boolean) {
  for (const end = Date.now() + patience; !holds(); ) {
    if (Date.now() > end) throw new Error(`it does not come to hold; the page says: ${said()}`);
    await act(async () => void (await new Promise((r) => setTimeout(r, 10))));
  }
}
