// @vitest-environment happy-dom
import { useState } from "react";
import { afterEach, expect, test } from "vitest";
import { clear, draw, said, tick, write } from "../testing/render";
import { Picking } from "./Picking";

afterEach(clear);

const options = (n: number) => Array.from({ length: n }, (_, i) => ({ key: `k${i}`, label: `Choice ${i}` }));

function Some({ n, first }: { n: number; first: string[] }) {
  const [value, setValue] = useState(first);
  return (
    <>
      <Picking label="Tags" options={options(n)} value={value} onChange={setValue} />
      <output>{value.join(" ")}</output>
    </>
  );
}

const shown = () => [...document.querySelectorAll("fieldset label, [role=group] label")].map((l) => l.textContent!.trim());
const chosen = () => document.querySelector("output")!.textContent;

test("what was chosen stands first, and stays in its place while one chooses", async () => {
  await draw(<Some n={4} first={["k3"]} />);
  expect(shown()).toEqual(["Choice 3", "Choice 0", "Choice 1", "Choice 2"]);
  await tick("Choice 1");
  expect(shown()[0]).toBe("Choice 3");
  expect(chosen()).toBe("k3 k1");
});

test("a short list has nothing to search; a long one is narrowed, and never hides what is chosen", async () => {
  await draw(<Some n={12} first={[]} />);
  expect(document.querySelector("input:not([type=checkbox])")).toBeNull();
  await clear();
  await draw(<Some n={20} first={["k5"]} />);
  await write("Find in tags", "choice 1");
  expect(shown()).toEqual(["Choice 5", "Choice 1", ...Array.from({ length: 10 }, (_, i) => `Choice ${i + 10}`)]);
  await write("Find in tags", "nothing like it");
  expect(shown()).toEqual(["Choice 5"]);
  expect(said()).toContain("k5");
});
