import { useState } from "react";
import { api, must, type Schema } from "../api/client";
import { Button } from "../parts/Button";
import { DayBox } from "../parts/DayBox";
import { TextBox } from "../parts/Field";
import { Fold } from "../parts/Fold";
import { inDays } from "../parts/days";
import { day } from "../parts/format";
import { acts, morningOf } from "../Leads/Activities/queries";
import { useSession } from "../common/session";
import { useTyped } from "../common/useTyped";
import { useUndoable } from "../common/acting";
import { useDealAct } from "./parts";

/** The next step of a deal, and a note or call about it. */
export function DealSteps({ sheet, may }: { sheet: Schema["DealSheet"]; may: boolean }) {
  const { id } = sheet.deal;
  const { timeZone } = useSession();
  const act = useDealAct(id);
  const undoable = useUndoable();
  const [subject, setSubject] = useState("");
  const [due, setDue] = useState(inDays(3, timeZone));
  const [note, setNote] = useTyped(`${id}:deal-note`, "");
  const path = { id };
  const open = sheet.tasks.filter((t) => !t.doneAt);
  const plan = () => act(() => must(api.POST("/api/deals/{id}/tasks", { params: { path }, body: { subject, dueAt: morningOf(due, timeZone), owner: null, repeat: null } })));
  const touch = (kind: "note" | "call") => act(() => must(api.POST("/api/deals/{id}/touches", { params: { path }, body: { kind, text: note } })), kind === "call" ? "The call is recorded." : "The note is kept.");
  return (
    <>
      <Fold title={open.length ? `Next step: ${open[0]!.subject}` : "No next step"} open={open.length === 0 && may}>
        {open.map((t) => (
          <div key={t.id} style={{ display: "flex", justifyContent: "space-between", gap: 8, fontSize: 14, padding: "3px 0" }}>
            <span>
              {t.subject}
              <span style={{ color: "var(--soft)" }}>
                , {day(t.dueAt)}, {t.owner}
              </span>
            </span>
            {may && (
              <Button look="quiet" onPress={() => void undoable(() => acts.done(t.id), `${t.subject} is done.`, () => acts.reopen(t.id))}>
                Done
              </Button>
            )}
          </div>
        ))}
        {may && (
          <form
            style={{ display: "grid", gridTemplateColumns: "1fr 132px", gap: 8, alignItems: "start" }}
            onSubmit={(e) => {
              e.preventDefault();
              void plan().then((done) => done && setSubject(""));
            }}
          >
            <TextBox label="What comes next" value={subject} onChange={setSubject} />
            <DayBox label="By" value={due} onChange={setDue} />
            <div>
              <Button type="submit" isDisabled={!subject.trim() || !due}>
                Plan
              </Button>
            </div>
          </form>
        )}
      </Fold>
      {may && (
        <Fold title="Note or call">
          <TextBox lines label="What was said, or is worth remembering" value={note} onChange={setNote} />
          <Button isDisabled={!note.trim()} onPress={() => void touch("note").then((done) => done && setNote(""))}>
            Keep as note
          </Button>{" "}
          <Button look="quiet" isDisabled={!note.trim()} onPress={() => void touch("call").then((done) => done && setNote(""))}>
            as call
          </Button>
        </Fold>
      )}
    </>
  );
}
