import styled from "styled-components";
import type { Schema } from "../api/client";
import { PickListChoice } from "../common/PickList";
import { small } from "../parts/theme";
import { useLabels } from "../common/fields";
import { Hint } from "../parts/Words";

const Row = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(220px, 300px);
  gap: 8px 24px;
  align-items: center;
  padding: 7px 0;
  border-bottom: 1px solid var(--hair);
  font-size: 14px;
  @media (max-width: 600px) {
    grid-template-columns: minmax(0, 1fr);
  }
  label {
    display: flex;
    gap: 8px;
    align-items: baseline;
  }
  small {
    ${small}
  }
`;

type Props = { leads: Schema["AlongChoice"][]; along: Record<string, string>; onChange: (along: Record<string, string>) => void };

/** Other open leads of the company, which may become further contacts in the same act; each with their part in the deal. */
export function Along({ leads, along, onChange }: Props) {
  const state = useLabels("state");
  const toggle = (id: string, on: boolean) => onChange(on ? { ...along, [id]: "" } : Object.fromEntries(Object.entries(along).filter(([k]) => k !== id)));
  return (
    <>
      <h2>Come along</h2>
      <Hint $below={2}>Other open leads of this company. Whoever comes along becomes a further contact on the same deal.</Hint>
      {leads.map((l) => (
        <Row key={l.id}>
          <label>
            <input type="checkbox" checked={l.id in along} disabled={!l.mine} onChange={(e) => toggle(l.id, e.target.checked)} />
            <span>
              {l.name} <small>{[l.jobTitle, state(l.state).toLowerCase(), l.ownerName, l.mine ? null : "not yours to hand over"].filter(Boolean).join(", ")}</small>
            </span>
          </label>
          {l.id in along && <PickListChoice hideLabel list="deal-roles" label={`The part ${l.name} has`} none="no part in particular" value={along[l.id]!} onChange={(role) => onChange({ ...along, [l.id]: role })} />}
        </Row>
      ))}
    </>
  );
}
