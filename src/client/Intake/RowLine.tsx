import { Link } from "react-router";
import styled from "styled-components";
import type { Schema } from "../api/client";
import { Button } from "../parts/Button";
import { small } from "../parts/theme";
import { Hint, Quiet } from "../parts/Words";
import { useMay } from "../common/session";
import { Known } from "../Rights/Known";
import { MendBox } from "./MendBox";
import { useMend } from "./queries";

const Raw = styled.code`
  display: block;
  ${small}
  font-size: 12px;
  font-family: ui-monospace, "DejaVu Sans Mono", monospace;
  overflow-wrap: anywhere;
`;

const Verdict = styled.b<{ $mends: boolean }>`
  color: var(--${(p) => (p.$mends ? "lamp-ink" : "bad")});
`;

const plain: Record<string, string> = { new: "A new lead", mend: "Nothing yet", adds: "Adds to a lead", duplicate: "Adds to its duplicate", contact: "A new lead", account: "A new lead", barred: "Does not come in" };

type Props = { row: Schema["RowView"]; imported: Schema["ImportView"] };

/** A row as it came, what it becomes, what it changes, and what can be mended in it. */
export function RowLine({ row, imported }: Props) {
  const value = (key: string) => row.values.find((v) => v.key === key)?.value;
  const name = [value("first_name"), value("last_name")].filter(Boolean).join(" ");
  const place = [value("company"), value("country")].filter(Boolean).join(", ");
  const came = imported.state === "taken" && row.outcome !== "mend" && row.outcome !== "barred";
  return (
    <tr>
      <td className="n">{row.number}</td>
      <td>
        {name || <Quiet>no name</Quiet>}
        <Hint as="div">{place}</Hint>
      </td>
      <td>
        {value("email")}
        <div>{value("phone") ?? value("mobile")}</div>
      </td>
      <td>
        {row.outcome === "mend" || row.outcome === "barred" ? (
          <>
            <Verdict $mends={row.outcome === "mend"}>{row.outcome === "mend" ? "To mend." : "Barred."}</Verdict> {row.reason}
            <Raw>{row.raw.split(" · ").filter((c) => c.trim()).join(" · ")}</Raw>
          </>
        ) : (
          row.known ? <Known known={row.known} /> : row.reason || plain[row.outcome]
        )}
        {row.leadId && (came || row.outcome === "adds") && (
          <>
            {" "}
            <Link to={`/leads/${row.leadId}`}>Open the lead</Link>
          </>
        )}
        {row.changes.map((c) => (
          <Hint as="div" key={c.label}>
            {c.label}: {c.before ? <s>{c.before}</s> : "blank"} → <b>{c.after}</b>
          </Hint>
        ))}
        {row.left && <Hint as="div">{row.left}</Hint>}
        <Mends row={row} imported={imported} />
      </td>
    </tr>
  );
}

// What stands in the way: a missing address or name for a row set aside, and every value that could not be read.
function Mends({ row, imported }: Props) {
  const { mend, busy } = useMend(imported.id);
  const may = useMay("runIntake") && (imported.state === "sifted" || (imported.state === "taken" && row.outcome === "mend"));
  const put = (field: string) => (value: string) => mend({ field, put: value, row: row.number, found: "" });
  const problems = row.problems.filter((p) => p.field);
  const known = (key: string) => row.values.some((v) => v.key === key);
  const unreachable = row.outcome === "mend" && !known("email") && !known("phone") && !known("mobile") && !problems.some((p) => p.field === "email");
  const nameless = row.outcome === "mend" && !known("last_name") && !known("first_name") && !known("company");
  return (
    <>
      {problems.map((p) => (
        <div key={`${p.field} ${p.found}`}>
          <Hint as="div">
            {row.outcome === "mend" ? "" : "Left blank: "}
            {p.words}{" "}
            {may &&
              p.proposals.map((s) => (
                <Button key={s.stored} look="quiet" isDisabled={busy} onPress={() => void put(p.field)(s.stored)}>
                  {s.label}
                </Button>
              ))}
          </Hint>
          {may && row.outcome === "mend" && <MendBox label={`${p.label} of row ${row.number}`} value={p.found} onPut={put(p.field)} />}
        </div>
      ))}
      {may && unreachable && <MendBox label={`Email of row ${row.number}`} onPut={put("email")} />}
      {may && nameless && <MendBox label={`Last name of row ${row.number}`} onPut={put("last_name")} />}
    </>
  );
}
