import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Form } from "react-aria-components";
import { useNavigate } from "react-router";
import styled from "styled-components";
import { api, must, ApiError } from "../api/client";
import { useFields } from "../Conditions/useFields";
import { Button } from "../parts/Button";
import { Overlay } from "../parts/Dialog";
import { DayBox } from "../parts/DayBox";
import { ChoiceBox, TextBox } from "../parts/Field";
import { inDays } from "../parts/days";
import { Ticks } from "../parts/Ticks";
import { tell } from "../parts/Toast";
import { useTyped } from "../parts/useTyped";
import { useRefresh, useSession } from "../Setup/session";
import { morningOf } from "./Activities/queries";
import { Alike } from "./Alike";
import { AskNext } from "./AskNext";

const Columns = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) 250px;
  gap: 24px;
  @media (max-width: 767px) {
    grid-template-columns: 1fr;
  }
`;

const Grid = styled.div`
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px 16px;
  .wide {
    grid-column: 1 / -1;
  }
`;

const asked: [string, string][] = [
  ["first_name", "First name"],
  ["last_name", "Last name"],
  ["company", "Company"],
  ["job_title", "Job title"],
  ["email", "Email"],
  ["phone", "Phone"],
  ["country", "Country"],
  ["interest", "Interest"],
];

const heats = [
  { key: "", label: "not said" },
  { key: "warm", label: "warm" },
  { key: "hot", label: "hot" },
];

/** One sheet, typed while talking: person, company, what they want, consent, follow-up. It makes or finds what it needs. */
export function NewLead({ isOpen, onClose }: { isOpen: boolean; onClose: () => void }) {
  const [draft, setDraft, forget] = useTyped<Draft>("new-lead", blank);
  const written = [...Object.values(draft.facts), draft.note, draft.subject].some((t) => t.trim() !== "");
  return (
    <Overlay title="New lead" isOpen={isOpen} onClose={onClose} width={900} unsaved={written}>
      <NewLeadForm draft={draft} onDraft={setDraft} onDone={onClose} onTaken={forget} />
    </Overlay>
  );
}

type Draft = { facts: Record<string, string>; note: string; subject: string };

const blank: Draft = { facts: {}, note: "", subject: "" };

type FormProps = { draft: Draft; onDraft: (draft: Draft) => void; onDone: () => void; onTaken: () => void };

function NewLeadForm({ draft, onDraft, onDone, onTaken }: FormProps) {
  const fields = useFields();
  const purposes = useQuery({ queryKey: ["purposes"], queryFn: () => must(api.GET("/api/consent-purposes")), staleTime: 300_000 }).data ?? [];
  const sources = fields.data?.find((f) => f.key === "source")?.choices ?? [];
  const { facts, note, subject } = draft;
  const setFacts = (next: Record<string, string>) => onDraft({ ...draft, facts: next });
  const [source, setSource] = useState("telephone");
  const [heat, setHeat] = useState("");
  const [consents, setConsents] = useState<string[]>([]);
  const { timeZone } = useSession();
  const [due, setDue] = useState(inDays(7, timeZone));
  const [key] = useState(() => crypto.randomUUID());
  const [trouble, setTrouble] = useState<ApiError>();
  const [busy, setBusy] = useState(false);
  const refresh = useRefresh();
  const navigate = useNavigate();

  const save = async () => {
    setBusy(true);
    setTrouble(undefined);
    try {
      const followUp = subject.trim() ? { subject: subject.trim(), dueAt: morningOf(due, timeZone) } : null;
      const made = await must(api.POST("/api/leads", { body: { source, facts, note: note || null, heat: heat || null, consents, followUp, key } }));
      onTaken();
      onDone();
      await refresh();
      tell(made.known ? `Added to lead ${made.number}. ${made.known}` : `Lead ${made.number} is in, scored and routed.`);
      void navigate(`/leads/${made.id}`);
    } catch (e) {
      setTrouble(e as ApiError);
    } finally {
      setBusy(false);
    }
  };
  const said = (field: string) => (trouble?.field === field ? trouble.message : undefined);
  const elsewhere = trouble && ![...asked.map(([k]) => k), "source", "followUp", "note"].includes(trouble.field ?? "");

  return (
    <Form
      onSubmit={(e) => {
        e.preventDefault();
        void save();
      }}
    >
      <Columns>
        <Grid>
          {asked.map(([field, label], i) => (
            <TextBox key={field} label={label} autoFocus={i === 0} value={facts[field] ?? ""} onChange={(v) => setFacts({ ...facts, [field]: v })} error={said(field)} />
          ))}
          <div className="wide">
            <TextBox label="Note" lines value={note} onChange={(t) => onDraft({ ...draft, note: t })} error={said("note")} />
          </div>
          <ChoiceBox label="How hot" value={heat} onChange={setHeat} options={heats} />
          <ChoiceBox label="Source" value={source} onChange={setSource} options={sources} error={said("source")} />
          <Ticks className="wide" label="Agreed to, aloud" options={purposes} value={consents} onChange={setConsents} />
          <TextBox label="Follow up with" value={subject} onChange={(t) => onDraft({ ...draft, subject: t })} error={said("followUp")} />
          <DayBox label="By" value={due} onChange={setDue} error={subject.trim() && !due ? "Say on which day." : undefined} />
        </Grid>
        <div>
          <AskNext facts={facts} onAnswer={(field, value) => setFacts({ ...facts, [field]: value })} asked={asked.map(([key]) => key)} />
          <Alike facts={facts} onOpen={onDone} />
        </div>
      </Columns>
      {elsewhere && (
        <p role="alert" style={{ color: "var(--bad)", marginTop: 10 }}>
          {trouble.message}{!trouble.away && " What you wrote is still here."}
        </p>
      )}
      <div style={{ display: "flex", gap: 8, marginTop: 16 }}>
        <Button look="main" type="submit" isDisabled={busy}>
          Take in
        </Button>
        <Button
          look="quiet"
          onPress={() => {
            onTaken();
            onDone();
          }}
        >
          Throw away
        </Button>
      </div>
    </Form>
  );
}
