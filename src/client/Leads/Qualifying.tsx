import { useState } from "react";
import { Link } from "react-router";
import styled from "styled-components";
import type { Schema } from "../api/client";
import { Aside } from "../parts/Bench";
import { Button } from "../parts/Button";
import { ChoiceBox, TextBox } from "../parts/Field";
import { tell } from "../parts/Toast";
import { small } from "../parts/theme";
import { useMay } from "../Setup/session";
import { leadActs, useLeadAct, type Sheet } from "./queries";

const Box = styled.section`
  border-top: 1px solid var(--hair);
  padding: 12px 0 14px;
  header {
    display: flex;
    justify-content: space-between;
    align-items: baseline;
  }
`;

const Grid = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(120px, 1fr));
  gap: 8px 18px;
  margin: 8px 0 6px;
  font-size: 14px;
  small {
    ${small}
    display: block;
  }
`;

const Rows = styled.div`
  display: grid;
  grid-template-columns: 90px 130px 1fr;
  gap: 8px 12px;
  align-items: center;
  margin: 10px 0;
`;

const asked = ["need", "budget", "authority", "timing"] as const;
const certainties = [
  { key: "unknown", label: "unknown" },
  { key: "weak", label: "weak" },
  { key: "confirmed", label: "confirmed" },
];
const signs: Record<string, string> = { unknown: "○", weak: "◐", confirmed: "●" };
const title = (word: string) => word[0]!.toUpperCase() + word.slice(1);

/** Need, budget, authority, timing; and what still stands before "qualified". */
export function Qualifying({ lead, mayWrite }: { lead: Sheet; mayWrite: boolean }) {
  const [editing, setEditing] = useState(false);
  const act = useLeadAct(lead.id);
  const mayHandOver = useMay("handOver");
  const ready = lead.missingToQualify.length === 0;
  const qualify = () => act.mutate(() => leadActs.move(lead, { state: "qualified" }), { onSuccess: (now) => tell("Qualified.", () => act.mutate(() => leadActs.move(now, { state: lead.state, reason: lead.stateReason, wakeAt: lead.wakeAt }))) });
  return (
    <Box aria-label="Qualification">
      <header>
        <h2>Qualification</h2>
        {mayWrite && !editing && (
          <Button look="quiet" onPress={() => setEditing(true)}>
            Change
          </Button>
        )}
      </header>
      {editing ? (
        <Editor lead={lead} onDone={() => setEditing(false)} />
      ) : (
        <Grid>
          {asked.map((q) => (
            <div key={q}>
              <span aria-hidden>{signs[lead.qualification[q].certainty]}</span> {title(q)} {lead.qualification[q].certainty}
              <small>{lead.qualification[q].evidence}</small>
            </div>
          ))}
        </Grid>
      )}
      {lead.state === "qualified" && mayHandOver ? (
        <Aside>
          Qualified. <Link to={`/handover/${lead.id}`}>Hand over</Link>
        </Aside>
      ) : ready && mayWrite && lead.state !== "qualified" ? (
        <Aside>
          The threshold is met.{" "}
          <Button look="quiet" onPress={qualify} isDisabled={act.isPending}>
            Mark as qualified
          </Button>
        </Aside>
      ) : (
        !ready && <p style={{ fontSize: 13, color: "var(--soft)" }}>To be qualified: {lead.missingToQualify.join(" ")}</p>
      )}
    </Box>
  );
}

function Editor({ lead, onDone }: { lead: Sheet; onDone: () => void }) {
  const [findings, setFindings] = useState<Schema["Qualification"]>(lead.qualification);
  const act = useLeadAct(lead.id);
  const set = (q: (typeof asked)[number], change: Partial<Schema["Finding"]>) => setFindings({ ...findings, [q]: { ...findings[q], ...change } });
  const save = () => act.mutate(() => leadActs.qualify(lead, findings), { onSuccess: () => (tell("Qualification is recorded."), onDone()) });
  return (
    <>
      <Rows>
        {asked.map((q) => (
          <div key={q} style={{ display: "contents" }}>
            <span>{title(q)}</span>
            <ChoiceBox hideLabel label={`${title(q)}, certainty`} value={findings[q].certainty} options={certainties} onChange={(k) => set(q, { certainty: k as Schema["Certainty"] })} />
            <TextBox label="" aria-label={`${title(q)}, evidence`} placeholder="what says so" value={findings[q].evidence} onChange={(evidence) => set(q, { evidence })} />
          </div>
        ))}
      </Rows>
      <Button look="main" onPress={save} isDisabled={act.isPending}>
        Keep
      </Button>
      <Button look="quiet" onPress={onDone}>
        Cancel
      </Button>
    </>
  );
}
