// @vitest-environment happy-dom
import { afterEach, beforeEach, expect, test } from "vitest";
import { button, clear, draw, hasButton, press, redraw, said } from "../testing/render";
import { WhyPane } from "./WhyPane";

const Pane = ({ ask, hasFacts = true }: { ask?: number; hasFacts?: boolean }) => (
  <WhyPane title="Both bars are cleared" facts={hasFacts ? <p>the facts</p> : undefined} ask={ask}>
    <p>the reasons</p>
  </WhyPane>
);

beforeEach(() => localStorage.clear());
afterEach(clear);

test("reasons first; the side one turned to stays for the next record", async () => {
  await draw(<Pane />);
  expect(said()).toContain("Both bars are clearedthe reasons");
  await press("Facts");
  expect(said()).toContain("the facts");
  expect(said()).not.toContain("the reasons");
  await clear();
  await draw(<Pane />);
  expect(said()).toContain("the facts");
  await press("Why");
  expect(said()).toContain("the reasons");
});

test("what has no facts shows its reasons, whatever side was chosen elsewhere", async () => {
  localStorage.setItem("lantern-side", "facts");
  await draw(<Pane hasFacts={false} />);
  expect(said()).toContain("the reasons");
  expect(hasButton("Facts")).toBe(false);
});

test("folded it stays folded, until something in it is asked for", async () => {
  await draw(<Pane ask={0} />);
  await press("Fold the reasons");
  expect(said()).not.toContain("the reasons");
  await clear();
  await draw(<Pane ask={0} />);
  expect(button("Show the reasons").getAttribute("aria-expanded")).toBe("false");
  await redraw(<Pane ask={1} />);
  expect(said()).toContain("the facts");
});
