// @vitest-environment happy-dom
import { act, useEffect, useState } from "react";
import { afterEach, expect, test } from "vitest";
import { box, clear, draw, leave, said, write } from "../testing/render";
import { FindBox, type Found } from "./FindBox";
import { useAnyUnread } from "./unread";

const ports = ["Port of Larne", "Port of Leith"].map((label, i): Found => ({ key: `a${i}`, label }));

const seen: { value: Found | null; unread: boolean } = { value: null, unread: false };
let sought: string[];
let found = ports;

function Page() {
  const [now, setNow] = useState<Found | null>(null);
  const unread = useAnyUnread();
  useEffect(() => void Object.assign(seen, { value: now, unread }));
  return <FindBox label="Account" value={now} onChange={setNow} found={found} onSeek={(text) => sought.push(text)} />;
}

const choose = (label: string) => act(async () => [...document.querySelectorAll<HTMLElement>("[role=option]")].find((o) => o.textContent === label)!.click());

async function opened(options = ports) {
  [sought, found] = [[], options];
  await draw(<Page />);
}

afterEach(clear);

test("one is found by typing and taken by choosing", async () => {
  await opened();
  await write("Account", "leith");
  expect(sought.at(-1)).toBe("leith");
  expect(seen.value).toBeNull();
  await choose("Port of Leith");
  expect(seen.value).toEqual({ key: "a1", label: "Port of Leith" });
  expect(box("Account").value).toBe("Port of Leith");
  expect(seen.unread).toBe(false);
});

test("a text that is no choice keeps every form waiting and says so when the box is left", async () => {
  await opened();
  await write("Account", "nobody by this name");
  expect(seen.unread).toBe(true);
  await leave("Account");
  expect(said()).toContain("Choose one of those that are found");
  await write("Account", "");
  expect(seen.unread).toBe(false);
});

test("typing on after a choice takes the choice away", async () => {
  await opened();
  await write("Account", "larne");
  await choose("Port of Larne");
  await write("Account", "Port of Larn");
  expect(seen.value).toBeNull();
  expect(seen.unread).toBe(true);
});

test("nothing that fits is said, and the page stays", async () => {
  await opened([]);
  await write("Account", "zzz");
  expect(document.body.textContent).toContain("Nothing by these words.");
  expect(box("Account").value).toBe("zzz");
});
