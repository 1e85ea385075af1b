import styled from "styled-components";
import { DataTable } from "../parts/DataTable";
import { Wrong } from "../parts/Words";
import { reaches } from "./reach";

const Cell = styled.td`
  label {
    display: inline-grid;
    align-items: center;
    min-width: 24px;
    min-height: 24px;
  }
`;

type Row<K extends string> = { key: K; label: string };
type Props<K extends string> = { rows: readonly Row<K>[]; value: Record<K, string[]>; onChange: (key: K, parts: string[]) => void; error?: string };

/** Once everybody's are seen, the rest says nothing. */
const chosen = (before: string[], part: string, on: boolean) => (!on ? before.filter((p) => p !== part) : part === "all" ? ["all"] : [...before.filter((p) => p !== "all"), part]);

const head = [{ label: "Records", isUnseen: true }, ...reaches.map((r) => ({ label: r.label, width: 90 }))];

/** Whose records of each kind are seen: a row each kind, a column each part. */
export function SightGrid<K extends string>({ rows, value, onChange, error }: Props<K>) {
  return (
    <>
      <DataTable label="Sees" head={head} hasButtons>
        {rows.map((r) => (
          <tr key={r.key}>
            <td>{r.label}</td>
            {reaches.map((part) => (
              <Cell key={part.key}>
                <label>
                  <input
                    type="checkbox"
                    aria-label={`${r.label}: ${part.label}`}
                    checked={value[r.key].includes(part.key)}
                    onChange={(e) => onChange(r.key, chosen(value[r.key], part.key, e.target.checked))}
                  />
                </label>
              </Cell>
            ))}
          </tr>
        ))}
      </DataTable>
      {error && <Wrong>{error}</Wrong>}
    </>
  );
}
