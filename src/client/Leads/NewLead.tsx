import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import styled from "styled-components";
import { api, must } from "../api/client";
import { offered, useFields } from "../common/fields";
import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import { keys } from "../common/keys";
import { useSession } from "../common/session";
import { DayBox } from "../parts/DayBox";
import { inDays } from "../parts/days";
import { Overlay } from "../parts/Dialog";
import { ChoiceBox, TextBox } from "../parts/Field";
import { Columns } from "../parts/Layout";
import { Ticks } from "../parts/Ticks";
import { morningOf } from "../parts/zones";
import { Alike } from "./Alike";
import { AskNext } from "./AskNext";

const Sides = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) 250px;
  gap: 24px;
  @media (max-width: 767px) {
    grid-template-columns: minmax(0, 1fr);
  }
`;

const Wide = styled.div`
  grid-column: 1 / -1;
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

type Values = { facts: Record<string, string>; note: string; subject: string; source: string; heat: string; consents: string[]; due: string };

const useNewLead = () => {
  const { timeZone } = useSession();
  const initial: Values = { facts: {}, note: "", subject: "", source: "telephone", heat: "", consents: [], due: inDays(7, timeZone) };
  return useForm({ called: "the new lead", name: "new-lead", initial });
};

type Form = ReturnType<typeof useNewLead>;

/** One sheet, typed while talking: person, company, what they want, consent, follow-up. It makes or finds what it needs. */
export function NewLead({ isOpen, onClose }: { isOpen: boolean; onClose: () => void }) {
  const form = useNewLead();
  const send = useTakeIn(form, onClose);
  const { subject, due, facts } = form.values;
  const setFact = (field: string, value: string) => form.set({ facts: { ...facts, [field]: value } });
  return (
    <Overlay title="New lead" isOpen={isOpen} onClose={onClose} width={900} unsaved={form}>
      <FormBox form={form} words="Take in" onSend={send} isReady={!subject.trim() || !!due}>
        <Sides>
          <Columns $of="repeat(2, minmax(0, 1fr))" $gap={3}>
            {asked.map(([field, label], i) => (
              <TextBox key={field} label={label} autoFocus={i === 0} value={facts[field] ?? ""} onChange={(v) => setFact(field, v)} error={form.said(field)} />
            ))}
            <Rest form={form} />
          </Columns>
          <div>
            <AskNext facts={facts} onAnswer={setFact} asked={asked.map(([key]) => key)} />
            <Alike facts={facts} onOpen={onClose} />
          </div>
        </Sides>
      </FormBox>
    </Overlay>
  );
}

function Rest({ form }: { form: Form }) {
  const purposes = useQuery({ queryKey: keys.purposes, queryFn: () => must(api.GET("/api/consent-purposes")), staleTime: 300_000 }).data ?? [];
  const sources = offered(useFields().data?.find((f) => f.key === "source"));
  const { subject, due } = form.values;
  return (
    <>
      <Wide>
        <TextBox label="Note" lines={2} {...form.bind("note")} />
      </Wide>
      <ChoiceBox label="How hot" {...form.bind("heat")} options={heats} />
      <ChoiceBox label="Source" {...form.bind("source")} options={sources} />
      <Wide>
        <Ticks label="Agreed to, aloud" options={purposes} {...form.bind("consents")} />
      </Wide>
      <TextBox label="Follow up with" {...form.bind("subject")} error={form.said("followUp")} />
      <DayBox label="By" {...form.bind("due")} error={subject.trim() && !due ? "Say on which day." : undefined} />
    </>
  );
}

function useTakeIn(form: Form, onDone: () => void) {
  const { timeZone } = useSession();
  const navigate = useNavigate();
  // The same sheet sent twice is one lead.
  const [key, setKey] = useState(() => crypto.randomUUID());
  return () =>
    form.send(
      ({ facts, note, subject, source, heat, consents, due }) => {
        const followUp = subject.trim() ? { subject: subject.trim(), dueAt: morningOf(due, timeZone) } : null;
        return must(api.POST("/api/leads", { body: { source, facts, note: note || null, heat: heat || null, consents, followUp, key } }));
      },
      {
        changes: ["lead", "arrivals"],
        words: (made) => (made.known ? `Added to lead ${made.number}. ${made.known}` : `Lead ${made.number} is in, scored and routed.`),
        then: (made) => {
          setKey(crypto.randomUUID());
          onDone();
          void navigate(`/leads/${made.id}`);
        },
      },
    );
}
