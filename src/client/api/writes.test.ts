import { expect, test } from "vitest";
import { Writes } from "./writes";

const write = 'POST /api/leads/1/notes {"text":"Rang"}';

function at() {
  const clock = { now: 0 };
  return { clock, writes: new Writes(() => clock.now) };
}

test("the same write has its key until it is answered, however long the line is gone", () => {
  const { clock, writes } = at();
  const key = writes.keyOf(write);
  clock.now = 60_000;
  expect(writes.keyOf(write)).toBe(key);
  clock.now = 9 * 60_000;
  expect(writes.keyOf(write)).toBe(key);
  clock.now = 10 * 60_000;
  expect(writes.keyOf(write)).not.toBe(key);
});

test("a second press just after the answer is the same, a later one is a second wish", () => {
  const { clock, writes } = at();
  const key = writes.keyOf(write);
  clock.now = 3000;
  writes.answered(key);
  clock.now = 4499;
  expect(writes.keyOf(write)).toBe(key);
  clock.now = 4500;
  expect(writes.keyOf(write)).not.toBe(key);
});

test("another body, another address or another way has another key, and its answer ends only its own", () => {
  const { clock, writes } = at();
  const keys = [write, write.replace("Rang", "Rang again"), write.replace("/1/", "/2/"), write.replace("POST", "PUT")].map((w) => writes.keyOf(w));
  expect(new Set(keys).size).toBe(4);
  writes.answered(keys[1]!);
  clock.now = 2000;
  expect(writes.keyOf(write)).toBe(keys[0]);
  expect(writes.keyOf(write.replace("Rang", "Rang again"))).not.toBe(keys[1]);
});

test("what is as long as a file is not kept, and has a key of its own each time", () => {
  const { writes } = at();
  const file = `POST /api/intake ${"x".repeat(100_000)}`;
  expect(writes.keyOf(file)).not.toBe(writes.keyOf(file));
});
