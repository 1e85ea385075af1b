import { Area, Lines } from "../../parts/pictures/Lines";
import { Bars } from "../../parts/pictures/Bars";
import { Funnel } from "../../parts/pictures/Funnel";
import { Legend, NestedBars } from "../../parts/pictures/NestedBars";
import { Spark } from "../../parts/pictures/Spark";
import { Strip } from "../../parts/pictures/Strip";
import { Waterfall } from "../../parts/pictures/Waterfall";
import { Lamp } from "../../parts/Lamp";
import { Row } from "../../parts/Layout";
import { Kind, Shown } from "./Shown";

const months = ["Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];
const begin = Date.UTC(2026, 5, 1);
const month = 30 * 86_400_000;
const points = (values: readonly number[]) => values.map((value, i) => ({ at: begin + i * month, value }));
const layers = [
  { name: "came in", color: "var(--slate-wash)" },
  { name: "handed over", color: "var(--slate)" },
  { name: "won", color: "var(--lamp)" },
];

/** Every picture, with few and with no values. */
export function PictureParts() {
  return (
    <>
      <Kind name="Pictures">
        <Shown state="bars">
          <Bars label="Leads by month" rows={months.map((label, i) => ({ label, value: [12, 31, 8, 0, 44, 27][i]! }))} head={["month", "leads"]} />
        </Shown>
        <Shown state="lines, one of them not so yet">
          <Lines
            label="Engagement over time"
            most={100}
            level={{ value: 40, label: "bar 40" }}
            series={[
              { name: "was", points: points([12, 40, 66, 58]), color: "var(--lamp)" },
              { name: "will be", points: points([12, 40, 66, 58, 31, 16]).slice(3), color: "var(--lamp)", look: "dashed" },
            ]}
          />
        </Shown>
        <Shown state="area">
          <Area label="Amount expected" series={[{ name: "amount", points: points([4000, 9500, 9500, 21_000, 18_000, 40_500]) }]} />
        </Shown>
        <Shown state="waterfall">
          <Waterfall label="How the forecast changed" steps={[{ label: "was", by: 80 }, { label: "new", by: 34 }, { label: "won", by: -21 }, { label: "lost", by: -12 }, { label: "is", total: true }]} />
        </Shown>
        <Shown state="funnel">
          <Funnel label="From lead to deal" steps={[{ label: "came in", value: 420 }, { label: "worked", value: 260 }, { label: "qualified", value: 61 }, { label: "won", value: 18 }]} />
        </Shown>
        <Shown state="strip">
          <Strip label="Leads by day and hour" rows={["Mon", "Tue", "Wed"]} columns={months} valueOf={(r, c) => (r * 7 + c * 5) % 11} />
        </Shown>
      </Kind>
      <Kind name="Small pictures">
        <Shown state="spark">
          <Spark label="Last weeks" values={[3, 5, 2, 8, 13, 9, 4]} />
        </Shown>
        <Shown state="bars within each other">
          <Legend series={layers} />
          <NestedBars label="Fairs" series={layers} values={[60, 22, 9]} most={60} />
        </Shown>
        <Shown state="scores: none, known in part, both high">
          <Row $gap={4}>
            <Lamp fit={0} engagement={0} size={44} />
            <Lamp fit={40} fitHigh={75} engagement={20} size={44} />
            <Lamp fit={92} engagement={100} size={44} />
          </Row>
        </Shown>
        <Shown state="a picture without values">
          <Bars label="Nothing yet" rows={[]} />
          <Funnel label="Nothing yet" steps={[]} />
        </Shown>
      </Kind>
    </>
  );
}
