import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { keys } from "../common/keys";
import { Bench, Inner, Pane } from "../parts/Bench";
import { DataTable } from "../parts/DataTable";
import { whole } from "../parts/format";
import { ErrorNote, Skeleton } from "../parts/States";
import { NestedBars, Legend } from "../parts/pictures/NestedBars";

const Wide = styled(Inner)`
  max-width: 1040px;
`;

const Told = styled.p`
  max-width: 76ch;
  margin-top: 4px;
`;

const series = [
  { name: "arrived", color: "color-mix(in srgb, var(--slate) 28%, var(--paper))" },
  { name: "handed over", color: "var(--slate)" },
  { name: "won", color: "var(--lamp)" },
];

const numeric = (label: string) => ({ label, isNumber: true });

type Report = Schema["SourceReport"];

/** What comes of each source; every number leads to its rows. */
export function ReportsPage() {
  const report = useQuery({ queryKey: keys.reports, queryFn: () => must(api.GET("/api/reports/sources")) });
  return (
    <Bench>
      <Pane aria-label="Reports">
        <Wide>
          <h1>What comes of each source</h1>
          {report.isPending && <Skeleton />}
          {report.isError && <ErrorNote error={report.error} />}
          {report.data && <Sources report={report.data} />}
        </Wide>
      </Pane>
    </Bench>
  );
}

function Sources({ report }: { report: Report }) {
  const most = Math.max(1, ...report.sources.map((s) => s.arrived));
  const rowsOf = (source: string, state: string) => `/leads?source=${source}&state=${state}&days=365`;
  return (
    <>
      <Told>{report.sentence}</Told>
      <Legend series={series} />
      <DataTable label="Sources" head={["Source", { label: "The last 365 days", width: "46%" }, numeric("Arrived"), numeric("Handed over"), numeric("Won")]}>
        {report.sources.map((s) => (
          <tr key={s.key}>
            <td>{s.name}</td>
            <td>
              <NestedBars label={s.name} series={series} values={[s.arrived, s.handedOver, s.won]} most={most} />
            </td>
            <td className="n">
              <Link to={rowsOf(s.key, "any")}>{whole(s.arrived)}</Link>
            </td>
            <td className="n">
              <Link to={rowsOf(s.key, "handed_over")}>{whole(s.handedOver)}</Link>
            </td>
            <td className="n">{whole(s.won)}</td>
          </tr>
        ))}
      </DataTable>
    </>
  );
}
