import { useState } from "react";
import styled from "styled-components";
import { useUndoable } from "../parts/acting";
import { Button } from "../parts/Button";
import { ChoiceBox } from "../parts/Field";
import { exact, moment } from "../parts/format";
import { useNow } from "../parts/now";
import { small } from "../parts/theme";
import { Urgent } from "../parts/Urgent";
import { useRefresh, useSession } from "../Setup/session";
import { Entry } from "./Activities/Entry";
import { Meetings } from "./Activities/Meetings";
import { acts, repeatWords } from "./Activities/queries";
import { TaskForm } from "./Activities/TaskForm";
import type { Sheet } from "./queries";

const List = styled.ol`
  list-style: none;
  padding: 0;
  li {
    display: grid;
    grid-template-columns: 88px minmax(0, 1fr);
    font-size: 14px;
  }
  time {
    ${small}
    padding-top: 6px;
  }
  .entry {
    border-left: 1px solid var(--hair);
    padding: 6px 0 6px 14px;
    overflow-wrap: anywhere;
    white-space: pre-line;
  }
  small {
    ${small}
    display: block;
  }
`;

const Tasks = styled.ul`
  list-style: none;
  padding: 0;
  margin: 6px 0 14px;
  li {
    display: flex;
    justify-content: space-between;
    align-items: baseline;
    gap: 12px;
    border-bottom: 1px solid var(--hair);
    padding: 4px 0;
    font-size: 14px;
  }
  small {
    ${small}
  }
`;

/** A record's entries: pinned ones first, then the newest. */
export function StoryList({ entries, mayWrite }: { entries: Sheet["story"]; mayWrite?: boolean }) {
  const { timeZone } = useSession();
  return (
    <List>
      {entries.map((s) => (
        <li key={s.id}>
          <time dateTime={s.at} title={exact(s.at, timeZone)}>
            {moment(s.at, timeZone)}
          </time>
          <Entry entry={s} mayWrite={mayWrite} />
        </li>
      ))}
    </List>
  );
}

const kinds = [
  { key: "all", label: "everything" },
  { key: "notes", label: "notes" },
  { key: "calls", label: "calls and meetings" },
  { key: "mail", label: "letters and messages" },
  { key: "came", label: "what came in" },
  { key: "kept", label: "changes" },
];

const belongs: Record<string, string[]> = { notes: ["note"], calls: ["call", "call_missed", "meeting"], mail: ["mail", "message"], came: ["came_in", "added"] };
const named = Object.values(belongs).flat();

const fits = (entry: Sheet["story"][number], kind: string) => kind === "all" || (kind === "kept" ? !named.includes(entry.kind) : belongs[kind]!.includes(entry.kind));

/** What comes next, and everything that happened. */
export function Story({ lead, mayWrite }: { lead: Sheet; mayWrite: boolean }) {
  const open = lead.tasks.filter((t) => !t.doneAt);
  const [kind, setKind] = useState("all");
  const shown = lead.story.filter((s) => fits(s, kind));
  const meets = lead.meetings.some((m) => !m.cancelled && !m.result);
  return (
    <section aria-label="Story" style={{ borderTop: "1px solid var(--hair)", paddingTop: 12 }}>
      <h2 style={{ marginBottom: 6 }}>{open.length ? "Next, and the story" : "The story"}</h2>
      {open.length > 0 && (
        <Tasks aria-label="Next steps">
          {open.map((t) => (
            <Step key={t.id} task={t} mayWrite={mayWrite} />
          ))}
        </Tasks>
      )}
      <Meetings lead={lead} mayWrite={mayWrite} />
      {open.length === 0 && !meets && lead.state === "in_work" && <p style={{ color: "var(--lamp-ink)", fontSize: 14, marginBottom: 8 }}>No next step.</p>}
      {lead.story.length > 4 && (
        <div style={{ width: 190, marginBottom: 8 }}>
          <ChoiceBox label="Of the story" hideLabel value={kind} options={kinds.filter((k) => k.key === "all" || lead.story.some((s) => fits(s, k.key)))} onChange={setKind} />
        </div>
      )}
      <StoryList entries={shown} mayWrite={mayWrite} />
    </section>
  );
}

function Step({ task, mayWrite }: { task: Sheet["tasks"][number]; mayWrite: boolean }) {
  const { timeZone, id, role } = useSession();
  const refresh = useRefresh();
  const now = useNow();
  const [changing, setChanging] = useState(false);
  const may = mayWrite && (task.ownerId === id || (role !== "rep" && role !== "qualifier"));
  const run = useUndoable();
  const late = Date.parse(task.dueAt) < now;
  if (changing)
    return (
      <li>
        <div style={{ flex: 1 }}>
          <TaskForm task={task} onLeave={() => setChanging(false)} onKeep={(body) => acts.change(task.id, body).then(() => (setChanging(false), refresh()))} />
        </div>
      </li>
    );
  return (
    <li>
      <span>
        {task.subject} {task.urgent && <Urgent />}{" "}
        <small title={exact(task.dueAt, timeZone)} style={late ? { color: "var(--lamp-ink)" } : undefined}>
          {task.owner}, {late ? "was due" : "by"} {moment(task.dueAt, timeZone)}
          {task.repeat && `, ${repeatWords(task.repeat)}`}
        </small>
      </span>
      {may && (
        <span style={{ whiteSpace: "nowrap" }}>
          <Button look="quiet" onPress={() => void run(() => acts.done(task.id), "Done.", () => acts.reopen(task.id))}>
            Done
          </Button>
          <Button look="quiet" onPress={() => setChanging(true)}>
            Change
          </Button>
        </span>
      )}
    </li>
  );
}
