import { DataTable } from "../parts/DataTable";
import { count, money } from "../parts/format";
import { Hint, Title } from "../parts/Words";
import type { HandingView } from "./queries";

/** Who gets what: computed by doing it, and taking it back. */
export function Shares({ view: { shares, rules, places, reports } }: { view: HandingView }) {
  const besides = [rules.length > 0 && `${count(rules.length, "rule")} named anew`, places > 0 && count(places, "place in a turn", "places in turns"), reports > 0 && count(reports, "person reports to somebody else", "people report to somebody else")].filter(Boolean);
  return (
    <>
      <Title $below={2}>Who gets what</Title>
      {shares.length === 0 ? (
        <Hint>No records change hands.</Hint>
      ) : (
        <DataTable label="Who gets what" head={["Who", "What", { label: "Worth", isNumber: true }]} width={800}>
          {shares.map((s) => (
            <tr key={s.person ?? "-"}>
              <td>
                <b>{s.name}</b>
              </td>
              <td>{s.counts.map((c) => c.words).join(", ")}</td>
              <td className="n">{s.money.map((m) => money(m.amount, m.currency)).join(", ")}</td>
            </tr>
          ))}
        </DataTable>
      )}
      {besides.length > 0 && <Hint>Besides: {besides.join(", ")}.</Hint>}
    </>
  );
}
