import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import styled from "styled-components";
import { api, must } from "../api/client";
import { Bench, Inner, Pane, Table } from "../parts/Bench";
import { whole } from "../parts/format";
import { Skeleton, ErrorNote } from "../parts/States";
import { keys } from "../common/keys";

const Bars = styled.div`
  position: relative;
  height: 22px;
  min-width: 240px;
  i {
    position: absolute;
    left: 0;
    border-radius: 1px;
  }
`;

const Key = styled.p`
  display: flex;
  gap: 18px;
  font-size: 13px;
  color: var(--soft);
  margin: 10px 0 8px;
  i {
    display: inline-block;
    width: 14px;
    height: 8px;
    margin-right: 6px;
  }
`;

const colors = { arrived: "color-mix(in srgb, var(--slate) 28%, var(--paper))", handedOver: "var(--slate)", won: "var(--lamp)" };

/** What comes of each source; every number leads to its rows. */
export function ReportsPage() {
  const report = useQuery({ queryKey: keys.reports, queryFn: () => must(api.GET("/api/reports/sources")) });
  const most = Math.max(1, ...(report.data?.sources.map((s) => s.arrived) ?? []));
  return (
    <Bench>
      <Pane>
        <Inner style={{ maxWidth: 1040 }}>
          <h1>What comes of each source</h1>
          {report.isPending && <Skeleton />}
          {report.isError && <ErrorNote error={report.error} />}
          {report.data && (
            <>
              <p style={{ maxWidth: "76ch", marginTop: 4 }}>{report.data.sentence}</p>
              <Key>
                <span>
                  <i style={{ background: colors.arrived }} />
                  arrived
                </span>
                <span>
                  <i style={{ background: colors.handedOver }} />
                  handed over
                </span>
                <span>
                  <i style={{ background: colors.won }} />
                  won
                </span>
              </Key>
              <Table>
                <thead>
                  <tr>
                    <th>Source</th>
                    <th style={{ width: "46%" }}>The last 365 days</th>
                    <th className="n">Arrived</th>
                    <th className="n">Handed over</th>
                    <th className="n">Won</th>
                  </tr>
                </thead>
                <tbody>
                  {report.data.sources.map((s) => (
                    <tr key={s.key}>
                      <td>{s.name}</td>
                      <td>
                        <Bars role="img" aria-label={`${s.arrived} arrived, ${s.handedOver} handed over, ${s.won} won`}>
                          <i style={{ height: 22, width: `${(s.arrived / most) * 100}%`, background: colors.arrived }} />
                          <i style={{ height: 12, top: 5, width: `${(s.handedOver / most) * 100}%`, background: colors.handedOver }} />
                          <i style={{ height: 4, top: 9, width: `${(s.won / most) * 100}%`, background: colors.won }} />
                        </Bars>
                      </td>
                      <td className="n">
                        <Link to={`/leads?source=${s.key}&state=any&days=365`}>{whole(s.arrived)}</Link>
                      </td>
                      <td className="n">
                        <Link to={`/leads?source=${s.key}&state=handed_over&days=365`}>{whole(s.handedOver)}</Link>
                      </td>
                      <td className="n">{whole(s.won)}</td>
                    </tr>
                  ))}
                </tbody>
              </Table>
            </>
          )}
        </Inner>
      </Pane>
    </Bench>
  );
}
