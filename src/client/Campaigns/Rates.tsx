import styled from "styled-components";
import type { Schema } from "../api/client";
import { Cap } from "../parts/Bench";
import { DataTable } from "../parts/DataTable";
import { count, whole } from "../parts/format";
import { Block } from "../parts/Layout";

const Bar = styled.div`
  display: grid;
  grid-template-columns: 120px 1fr;
  gap: 10px;
  align-items: center;
  i {
    display: block;
    height: 8px;
    background: var(--hair);
    border-radius: 1px;
  }
  b {
    display: block;
    height: 8px;
    background: var(--slate);
    border-radius: 1px;
  }
  small {
    font-size: 13px;
    color: var(--soft);
    white-space: nowrap;
  }
`;

const Pick = styled.button`
  border: 0;
  background: none;
  padding: 0;
  cursor: pointer;
  min-height: 24px;
  color: var(--slate);
  text-align: left;
  &:hover {
    text-decoration: underline;
  }
  &[aria-pressed="true"] {
    font-weight: 650;
  }
`;

type Props = { sheet: Schema["CampaignSheet"]; chosen: string | null; onChoose: (response: string | null) => void };

/** What people did, of those we knew before and of those it brought in. A response opens who gave it. */
export function Rates({ sheet, chosen, onChoose }: Props) {
  const known = sheet.knownMembers ? `Of ${count(sheet.knownMembers, "person", "people")} we knew` : "We knew none of them";
  if (!sheet.rates.length) 
    return (
      <Block $below={6}>
        <Cap>Nobody belongs to it yet. Whoever comes in by a list, a form or over HTTP that names this campaign does.</Cap>
      </Block>
    );
  return (
    <Block as="section" aria-label="What people did" $below={7}>
      <h2>What people did</h2>
      <DataTable label="Responses" width={760} hasButtons head={[{ label: "Response", width: 170 }, known, `Of ${whole(sheet.campaign.fresh)} it brought in`, { label: "All", isNumber: true }]}>
          {sheet.rates.map((r) => (
            <tr key={r.response}>
              <td>
                <Pick aria-pressed={chosen === r.response} onClick={() => onChoose(chosen === r.response ? null : r.response)}>
                  {r.label}
                </Pick>
              </td>
              <td>
                <Share n={r.known} share={r.knownShare} />
              </td>
              <td>
                <Share n={r.fresh} share={r.freshShare} />
              </td>
              <td className="n">{whole(r.people)}</td>
            </tr>
          ))}
      </DataTable>
    </Block>
  );
}

function Share({ n, share }: { n: number; share: number | null | undefined }) {
  if (!n || share == null) return <Cap>nobody</Cap>;
  const percent = 100 * share;
  return (
    <Bar>
      <i aria-hidden>
        <b style={{ width: `${Math.max(1.5, percent)}%` }} />
      </i>
      <small>
        {whole(n)}, {percent >= 10 || percent === 0 ? Math.round(percent) : percent.toFixed(1)}&#8239;%
      </small>
    </Bar>
  );
}
