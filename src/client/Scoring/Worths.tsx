import styled from "styled-components";
import type { Schema } from "../api/client";
import { DataTable } from "../parts/DataTable";
import { points } from "../parts/format";
import { Said } from "../parts/Said";
import { Soft } from "../parts/Words";

type Report = Schema["OutcomeReport"];

const Verdict = styled.span<{ $isBad: boolean }>`
  ${(p) => p.$isBad && "color: var(--bad); font-weight: 600;"}
`;

const Careful = styled.details`
  margin-top: 16px;
  font-size: 14px;
`;

const verdicts: Record<Schema["LineVerdict"], string> = { tells: "tells", nothing: "tells nothing", opposite: "the opposite", unsure: "too few to say" };

/** Each part of the model with the points it gave won leads over lost ones, and whether that says anything. */
export function Worths({ report }: { report: Report }) {
  const rows = [
    ...report.criteria.map((c) => ({ key: `f${c.key}`, label: c.label, pull: c.pull, verdict: c.verdict, note: `information ${c.information.toFixed(2)}` })),
    ...report.signals.map((s, i) => ({ key: `s${i}`, label: s.label, pull: s.pull, verdict: s.verdict, note: s.share.count > 0 ? `won ${s.share.won} of ${s.share.count}` : "nobody had it" })),
  ];
  return (
    <>
      <DataTable label="What each part is worth" head={["Criterion or signal", { label: "points, won over lost", isNumber: true }, "says", { label: "by", isUnseen: true }]}>
        {rows.map((r) => (
          <tr key={r.key}>
            <td>{r.label}</td>
            <td className="n">{points(r.pull, 1)}</td>
            <td>
              <Verdict $isBad={r.verdict === "opposite"}>{verdicts[r.verdict]}</Verdict>
            </td>
            <td>
              <Soft>{r.note}</Soft>
            </td>
          </tr>
        ))}
      </DataTable>
      {report.warnings.length > 0 && (
        <Careful>
          <summary>{report.warnings.length === 1 ? "One thing" : `${report.warnings.length} things`} to be careful with</summary>
          <Said findings={report.warnings.map((w) => ({ ...w, words: `${nameOf(report, w.problem.path)}: ${w.words}` }))} />
        </Careful>
      )}
    </>
  );
}

/** What a path of the model is called. */
function nameOf(report: Report, path: string) {
  const [kind, at, , line] = path.split("/");
  if (kind === "engagement") return report.signals[Number(at)]?.label ?? path;
  const criterion = report.criteria[Number(at)];
  return line === undefined ? criterion?.label ?? path : `${criterion?.label}, ${criterion?.lines[Number(line)]?.words}`;
}
