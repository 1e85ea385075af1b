import { useState } from "react";
import { Link } from "react-router";
import styled from "styled-components";
import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import { useMay } from "../common/session";
import { Button } from "../parts/Button";
import { TextBox } from "../parts/Field";
import { Unseen } from "../parts/Layout";
import { small } from "../parts/theme";
import { Hint } from "../parts/Words";
import { signs } from "./Findings";
import { QualifyingForm } from "./QualifyingForm";
import { leadActs, useLeadAct, type Sheet } from "./queries";

const Box = styled.section`
  flex: 1;
  min-width: 0;
  font-size: 14px;
  .short {
    display: flex;
    flex-wrap: wrap;
    gap: 0 12px;
    align-items: baseline;
  }
  .short > span {
    white-space: nowrap;
  }
  small {
    ${small}
  }
`;

/** Need, budget, authority, timing and the pipeline's own questions, in one line; and what still stands before "qualified". The evidence stands among the facts. */
export function Qualifying({ lead, mayWrite }: { lead: Sheet; mayWrite: boolean }) {
  const [editing, setEditing] = useState(false);
  return (
    <Box aria-label="Qualification">
      {editing ? (
        <>
          <QualifyingForm lead={lead} onDone={() => setEditing(false)} />
          <Standing lead={lead} mayWrite={mayWrite} />
        </>
      ) : (
        <div className="short">
          {lead.qualifying.questions.map(({ key, label, finding }) => (
            <span key={key} title={[finding.certainty, finding.evidence].filter(Boolean).join(": ")}>
              <span aria-hidden>{signs[finding.certainty]}</span> {label}
              <Unseen>, {finding.certainty}</Unseen>
            </span>
          ))}
          {mayWrite && (
            <Button look="inline" onPress={() => setEditing(true)}>
              Change
            </Button>
          )}
          <Standing lead={lead} mayWrite={mayWrite} />
        </div>
      )}
    </Box>
  );
}

function Standing({ lead, mayWrite }: { lead: Sheet; mayWrite: boolean }) {
  const act = useLeadAct(lead.id);
  const mayHandOver = useMay("handOver");
  const mayExcept = useMay("exceptQualifying");
  const { missing, because, pipelineName } = lead.qualifying;
  const qualify = () => void act.run(() => leadActs.move(lead, { state: "qualified" }), qualified);
  if (lead.state === "qualified")
    return (
      <div>
        Qualified for {pipelineName}
        {because && `, as an exception: ${because}`}. {mayHandOver && <Link to={`/handover/${lead.id}`}>Hand over</Link>}
      </div>
    );
  if (missing.length > 0)
    return (
      <Hint as="div">
        To be qualified for {pipelineName}: {missing.join(" ")} {mayWrite && mayExcept && <Exception lead={lead} />}
      </Hint>
    );
  if (!mayWrite) return null;
  return (
    <div>
      The threshold of {pipelineName} is met.{" "}
      <Button look="inline" onPress={qualify} isPending={act.busy}>
        Mark as qualified
      </Button>
    </div>
  );
}

const qualified = { words: "Qualified.", back: leadActs.undoMove };

// Where the written threshold is not met, a person with that right may make an exception, and says why.
function Exception({ lead }: { lead: Sheet }) {
  const [open, setOpen] = useState(false);
  if (!open)
    return (
      <Button look="inline" onPress={() => setOpen(true)}>
        Make an exception
      </Button>
    );
  return <Why lead={lead} onLeave={() => setOpen(false)} />;
}

function Why({ lead, onLeave }: { lead: Sheet; onLeave: () => void }) {
  const { show } = useLeadAct(lead.id);
  const form = useForm({ called: "the exception", name: `${lead.id}:exception`, initial: { because: "" } });
  const send = () =>
    form.send(({ because }) => leadActs.move(lead, { state: "qualified", because }).then(show), { changes: ["lead"], words: qualified.words, back: (now) => leadActs.undoMove(now).then(show), then: onLeave });
  return (
    <FormBox form={form} words="Qualify" look="plain" onSend={send} onLeave={onLeave} isReady={!!form.values.because.trim()}>
      <TextBox label="Why it is qualified all the same" {...form.bind("because")} autoFocus />
    </FormBox>
  );
}
