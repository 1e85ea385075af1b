import { useState } from "react";
import { Link } from "react-router";
import styled from "styled-components";
import { ApiError, type Schema } from "../api/client";
import { Aside } from "../parts/Bench";
import { Button } from "../parts/Button";
import { DayBox } from "../parts/DayBox";
import { ChoiceBox, TextBox } from "../parts/Field";
import { day } from "../parts/format";
import { tell } from "../parts/Toast";
import { small } from "../parts/theme";
import { useMay } from "../Setup/session";
import { usePipelines } from "./Bulk/queries";
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
  grid-template-columns: repeat(auto-fit, minmax(150px, 1fr));
  gap: 10px 18px;
  margin: 8px 0 8px;
  font-size: 14px;
  small {
    ${small}
    display: block;
  }
`;

const Rows = styled.div`
  display: grid;
  grid-template-columns: 84px 122px minmax(0, 1fr);
  gap: 6px 10px;
  align-items: baseline;
  margin: 8px 0 12px;
  font-size: 14px;
  .head {
    ${small}
    font-size: 12px;
  }
  .who {
    grid-column: 2 / -1;
    display: grid;
    grid-template-columns: auto minmax(0, 1fr) auto 136px;
    gap: 8px;
    align-items: baseline;
    padding-bottom: 8px;
    ${small}
  }
`;

const certainties = [
  { key: "unknown", label: "unknown" },
  { key: "weak", label: "weak" },
  { key: "confirmed", label: "confirmed" },
];
const signs: Record<string, string> = { unknown: "○", weak: "◐", confirmed: "●" };

/** What was found out, question by question; shown where a lead or its deal is. */
export function Findings({ questions }: { questions: Schema["QuestionView"][] }) {
  return (
    <Grid>
      {questions.map(({ key, label, finding }) => (
        <div key={key}>
          <span aria-hidden>{signs[finding.certainty]}</span> {label} {finding.certainty}
          <small>{finding.evidence}</small>
          {(finding.saidBy || finding.saidOn) && <small>{["said", finding.saidBy && `by ${finding.saidBy}`, finding.saidOn && `on ${day(finding.saidOn)}`].filter(Boolean).join(" ")}</small>}
        </div>
      ))}
    </Grid>
  );
}

/** Need, budget, authority, timing and the pipeline's own questions; and what still stands before "qualified". */
export function Qualifying({ lead, mayWrite }: { lead: Sheet; mayWrite: boolean }) {
  const [editing, setEditing] = useState(false);
  const { qualifying } = lead;
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
      {editing ? <Editor lead={lead} onDone={() => setEditing(false)} /> : <Findings questions={qualifying.questions} />}
      <Standing lead={lead} mayWrite={mayWrite} />
    </Box>
  );
}

function Standing({ lead, mayWrite }: { lead: Sheet; mayWrite: boolean }) {
  const act = useLeadAct(lead.id);
  const mayHandOver = useMay("handOver");
  const mayExcept = useMay("exceptQualifying");
  const { missing, because, pipelineName } = lead.qualifying;
  const qualify = (why?: string) =>
    act.mutate(() => leadActs.move(lead, { state: "qualified", because: why }), {
      onSuccess: (now) => tell("Qualified.", () => act.mutateAsync(() => leadActs.undoMove(now), { onSuccess: () => tell("Not qualified any more; all is as before.") })),
    });
  if (lead.state === "qualified")
    return (
      <Aside>
        Qualified for {pipelineName}
        {because && `, as an exception: ${because}`}. {mayHandOver && <Link to={`/handover/${lead.id}`}>Hand over</Link>}
      </Aside>
    );
  if (missing.length === 0)
    return mayWrite ? (
      <Aside>
        The threshold of {pipelineName} is met.{" "}
        <Button look="quiet" onPress={() => qualify()} isDisabled={act.isPending}>
          Mark as qualified
        </Button>
      </Aside>
    ) : null;
  return (
    <>
      <p style={{ fontSize: 13, color: "var(--soft)" }}>
        To be qualified for {pipelineName}: {missing.join(" ")}
      </p>
      {mayWrite && mayExcept && <Exception onQualify={qualify} busy={act.isPending} />}
    </>
  );
}

const Line = styled.form`
  display: flex;
  gap: 10px;
  align-items: end;
  margin-top: 6px;
  & > :first-child {
    flex: 1;
  }
`;

// Where the written threshold is not met, whoever may make an exception says why.
function Exception({ onQualify, busy }: { onQualify: (why: string) => void; busy: boolean }) {
  const [why, setWhy] = useState<string>();
  if (why === undefined)
    return (
      <Button look="quiet" onPress={() => setWhy("")}>
        Make an exception
      </Button>
    );
  return (
    <Line
      onSubmit={(e) => {
        e.preventDefault();
        onQualify(why);
      }}
    >
      <TextBox label="Why it is qualified all the same" value={why} onChange={setWhy} autoFocus />
      <Button type="submit" isDisabled={!why.trim() || busy}>
        Qualify
      </Button>
      <Button look="quiet" onPress={() => setWhy(undefined)}>
        Leave it
      </Button>
    </Line>
  );
}

type Said = Record<string, Schema["QualificationAnswer"]>;
type Question = Schema["QuestionView"];

const asFound = ({ finding }: Question): Schema["QualificationAnswer"] => ({ certainty: finding.certainty, evidence: finding.evidence, saidBy: finding.saidBy ?? "", saidOn: finding.saidOn ?? null });

function Editor({ lead, onDone }: { lead: Sheet; onDone: () => void }) {
  const { questions, pipeline } = lead.qualifying;
  // What was changed here; it stays when the pipeline, and with it the questions, are changed meanwhile.
  const [changed, setChanged] = useState<Said>({});
  const pipelines = usePipelines();
  const act = useLeadAct(lead.id);
  const said = (q: Question) => changed[q.key] ?? asFound(q);
  const save = () => act.mutate(() => leadActs.qualify(lead, { findings: Object.fromEntries(questions.map((q) => [q.key, said(q)])) }), { onSuccess: () => (tell("Qualification is recorded."), onDone()) });
  const turn = (to: string) => act.mutate(() => leadActs.qualify(lead, { findings: {}, pipeline: to }));
  const trouble = act.error instanceof ApiError ? act.error : undefined;
  return (
    <>
      {(pipelines.data?.length ?? 0) > 1 && (
        <div style={{ maxWidth: 260, marginTop: 8 }}>
          <ChoiceBox label="Qualified for" value={pipeline} options={(pipelines.data ?? []).map((p) => ({ key: p.key, label: p.name }))} onChange={turn} />
        </div>
      )}
      <Rows>
        {["", "", "What says so"].map((h, i) => (
          <span key={i} className="head">
            {h}
          </span>
        ))}
        {questions.map((q) => (
          <Answer
            key={q.key}
            question={q}
            said={said(q)}
            onChange={(change) => setChanged({ ...changed, [q.key]: { ...said(q), ...change } })}
            error={trouble?.field === q.key ? trouble.message : undefined}
          />
        ))}
      </Rows>
      <div style={{ marginBottom: 10 }}>
        <Button look="main" onPress={save} isDisabled={act.isPending}>
          Keep
        </Button>
        <Button look="quiet" onPress={onDone}>
          Cancel
        </Button>
      </div>
    </>
  );
}

type AnswerProps = { question: Question; said: Schema["QualificationAnswer"]; onChange: (change: Partial<Schema["QualificationAnswer"]>) => void; error?: string };

// Who said it and when is asked once there is something that can be said.
function Answer({ question: { label, hint }, said, onChange, error }: AnswerProps) {
  const open = said.certainty !== "unknown" || !!said.evidence || !!said.saidBy || !!said.saidOn;
  return (
    <>
      <span title={hint}>{label}</span>
      <ChoiceBox hideLabel label={`${label}, certainty`} value={said.certainty} options={certainties} onChange={(k) => onChange({ certainty: k as Schema["Certainty"] })} />
      <TextBox label="" aria-label={`${label}, evidence`} placeholder={hint} value={said.evidence} onChange={(evidence) => onChange({ evidence })} error={error} />
      {open && (
        <div className="who">
          said by
          <TextBox label="" aria-label={`${label}, said by`} value={said.saidBy ?? ""} onChange={(saidBy) => onChange({ saidBy })} />
          on
          <DayBox label="" aria-label={`${label}, said on`} value={said.saidOn ?? ""} onChange={(saidOn) => onChange({ saidOn: saidOn || null })} />
        </div>
      )}
    </>
  );
}
