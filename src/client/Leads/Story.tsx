import { useState } from "react";
import styled from "styled-components";
import { useSession } from "../common/session";
import { ChoiceBox } from "../parts/Field";
import { exact, moment } from "../parts/format";
import { small } from "../parts/theme";
import { Text, Warm } from "../parts/Words";
import { Entry } from "./Activities/Entry";
import { Meetings } from "./Activities/Meetings";
import { Step } from "./Activities/Step";
import type { Sheet } from "./queries";

const Part = styled.section`
  padding-top: 10px;
  header {
    display: flex;
    flex-wrap: wrap;
    justify-content: space-between;
    align-items: baseline;
    gap: 4px 16px;
    margin-bottom: 4px;
  }
  .kind {
    width: 190px;
  }
`;

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
  margin: 0;
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
  const meets = lead.meetings.some((m) => !m.cancelled && !m.result);
  return (
    <Part aria-label="Story">
      <header>
        <h2>{open.length || meets ? "Next, and the story" : "The story"}</h2>
        {lead.story.length > 4 && (
          <div className="kind">
            <ChoiceBox label="Of the story" hideLabel value={kind} options={kinds.filter((k) => k.key === "all" || lead.story.some((s) => fits(s, k.key)))} onChange={setKind} />
          </div>
        )}
      </header>
      {open.length > 0 && (
        <Tasks aria-label="Next steps">
          {open.map((t) => (
            <Step key={t.id} task={t} mayWrite={mayWrite} />
          ))}
        </Tasks>
      )}
      <Meetings lead={lead} mayWrite={mayWrite} />
      {open.length === 0 && !meets && lead.state === "in_work" && (
        <Text $below={2}>
          <Warm>No next step.</Warm>
        </Text>
      )}
      <StoryList entries={lead.story.filter((s) => fits(s, kind))} mayWrite={mayWrite} />
    </Part>
  );
}
