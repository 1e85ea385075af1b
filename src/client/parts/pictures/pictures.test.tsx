// @vitest-environment happy-dom
import { MemoryRouter } from "react-router";
import { afterEach, expect, test } from "vitest";
import { clear, draw, page } from "../../testing/render";
import { Bars } from "./Bars";
import { Funnel, share } from "./Funnel";
import { Lines } from "./Lines";
import { Strip } from "./Strip";
import { falls, Waterfall } from "./Waterfall";

afterEach(clear);

const rows = () => [...page.querySelectorAll("table tbody tr")].map((r) => [...r.children].map((c) => c.textContent));
const label = () => page.querySelector("svg")!.getAttribute("aria-label");

test("a waterfall's steps begin where those before ended; a total stands on the ground", () => {
  expect(falls([{ label: "was", by: 80 }, { label: "won", by: -30 }, { label: "lost", by: -60 }, { label: "is", total: true }])).toEqual([
    { label: "was", from: 0, to: 80, isTotal: false },
    { label: "won", from: 80, to: 50, isTotal: false },
    { label: "lost", from: 50, to: -10, isTotal: false },
    { label: "is", from: 0, to: -10, isTotal: true },
  ]);
});

test("a funnel gives each step as a share of the one before, and none of nothing", () => {
  const steps = [{ label: "a", value: 200 }, { label: "b", value: 50 }, { label: "c", value: 0 }, { label: "d", value: 0 }];
  expect(steps.map((_, i) => share(steps, i))).toEqual(["", "25 %", "0 %", ""]);
});

test("bars are as high as their numbers, and say them in words and as a table", async () => {
  await draw(<Bars label="Leads" rows={[{ label: "Jul", value: 20 }, { label: "Aug", value: 10 }, { label: "Sep", value: 0 }]} head={["month", "leads"]} height={142} />);
  const heights = [...page.querySelectorAll("rect")].map((r) => Number(r.getAttribute("height")));
  expect(heights).toEqual([100, 50, 0]);
  expect(label()).toBe("Leads: Jul 20, Aug 10, Sep 0");
  expect(rows()).toEqual([["Jul", "20"], ["Aug", "10"], ["Sep", "0"]]);
});

test("a number of a picture leads to its rows", async () => {
  await draw(
    <MemoryRouter>
      <Funnel label="Way" steps={[{ label: "came in", value: 4, to: "/leads?state=any" }, { label: "won", value: 1 }]} />
    </MemoryRouter>,
  );
  expect(page.querySelector("a")!.getAttribute("href")).toBe("/leads?state=any");
  expect(rows()).toEqual([["came in", "4", ""], ["won", "1", "25 %"]]);
});

test("a waterfall says what went up and down", async () => {
  await draw(<Waterfall label="Forecast" steps={[{ label: "was", by: 80 }, { label: "lost", by: -30 }, { label: "is", total: true }]} />);
  expect(label()).toBe("Forecast: was +80, lost −30, is 50");
});

test("lines of several series stand in one table by where they are known", async () => {
  await draw(<Lines label="Both" isTime={false} series={[{ name: "was", points: [{ at: 1, value: 3 }, { at: 2, value: 5 }] }, { name: "will be", points: [{ at: 2, value: 5 }, { at: 4, value: 1 }], look: "dashed" }]} />);
  expect(rows()).toEqual([["1", "3", ""], ["2", "5", "5"], ["4", "", "1"]]);
  expect(page.querySelectorAll("path[stroke-dasharray]")).toHaveLength(1);
});

test("a strip gives a row and a column for each value", async () => {
  await draw(<Strip label="When" rows={["Mon", "Tue"]} columns={["9", "10"]} valueOf={(r, c) => r * 10 + c} />);
  expect(rows()).toEqual([["Mon", "0", "1"], ["Tue", "10", "11"]]);
});

test("without values there is no picture of wrong ones", async () => {
  await draw(<Lines label="None" series={[]} />);
  expect(page.querySelector("svg")).toBeNull();
});
