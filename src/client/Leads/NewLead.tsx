import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Form } from "react-aria-components";
import { useNavigate } from "react-router";
import styled from "styled-components";
import { api, must, TroubleError } from "../api/client";
import { Button } from "../parts/Button";
import { Overlay } from "../parts/Dialog";
import { ChoiceBox, TextBox } from "../parts/Field";
import { tell } from "../parts/Toast";
import { useRefresh } from "../Setup/session";

const Grid = styled.div`
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px 16px;
  .wide {
    grid-column: 1 / -1;
  }
`;

const asked: [string, string][] = [
  ["first_name", "First name"],
  ["last_name", "Last name"],
  ["company", "Company"],
  ["job_title", "Job title"],
  ["email", "Mail"],
  ["phone", "Phone"],
  ["country", "Country"],
  ["wants", "Wants"],
];

/** One sheet, typed while talking: person, company, what they want. It is matched, scored and routed at once. */
export function NewLead({ isOpen, onClose }: { isOpen: boolean; onClose: () => void }) {
  return (
    <Overlay title="New lead" isOpen={isOpen} onClose={onClose} width={620}>
      <NewLeadForm onDone={onClose} />
    </Overlay>
  );
}

function NewLeadForm({ onDone }: { onDone: () => void }) {
  const fields = useQuery({ queryKey: ["fields"], queryFn: () => must(api.GET("/api/fields")), staleTime: 300_000 });
  const sources = fields.data?.find((f) => f.key === "source")?.choices ?? [];
  const [facts, setFacts] = useState<Record<string, string>>({});
  const [source, setSource] = useState("telephone");
  const [note, setNote] = useState("");
  const [trouble, setTrouble] = useState<TroubleError>();
  const [busy, setBusy] = useState(false);
  const refresh = useRefresh();
  const navigate = useNavigate();

  const save = async () => {
    setBusy(true);
    setTrouble(undefined);
    try {
      const made = await must(api.POST("/api/leads", { body: { source, facts, note: note || null } }));
      onDone();
      await refresh();
      tell(`Lead ${made.number} is in, scored and routed.`);
      void navigate(`/leads/${made.id}`);
    } catch (e) {
      setTrouble(e as TroubleError);
    } finally {
      setBusy(false);
    }
  };

  return (
    <Form
      onSubmit={(e) => {
        e.preventDefault();
        void save();
      }}
    >
      <Grid>
        {asked.map(([key, label], i) => (
          <TextBox key={key} label={label} autoFocus={i === 0} value={facts[key] ?? ""} onChange={(v) => setFacts({ ...facts, [key]: v })} error={trouble?.field === key ? trouble.message : undefined} />
        ))}
        <ChoiceBox label="Source" value={source} onChange={setSource} options={sources} error={trouble?.field === "source" ? trouble.message : undefined} />
        <div className="wide" style={{ display: "contents" }}>
          <div className="wide">
            <TextBox label="Note" lines value={note} onChange={setNote} />
          </div>
        </div>
      </Grid>
      {trouble && !asked.some(([k]) => k === trouble.field) && trouble.field !== "source" && (
        <p role="alert" style={{ color: "var(--bad)", marginTop: 10 }}>
          {trouble.message} What you wrote is still here.
        </p>
      )}
      <div style={{ display: "flex", gap: 8, marginTop: 16 }}>
        <Button look="main" type="submit" isDisabled={busy}>
          Take in
        </Button>
        <Button slot="close" look="quiet">
          Cancel
        </Button>
      </div>
    </Form>
  );
}
