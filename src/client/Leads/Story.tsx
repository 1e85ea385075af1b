import styled from "styled-components";
import { api, must } from "../api/client";
import { Button } from "../parts/Button";
import { exact, moment } from "../parts/format";
import { tell, tellTrouble } from "../parts/Toast";
import { small } from "../parts/theme";
import { useRefresh, useSession } from "../Setup/session";
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

const leads: Record<string, string> = { call: "Call, reached. ", call_missed: "Call, not reached. ", mail: "Letter. ", note: "" };

/** A record's entries, newest first. */
export function StoryList({ entries }: { entries: Sheet["story"] }) {
  const { timeZone } = useSession();
  return (
    <List>
      {entries.map((s) => (
        <li key={s.id}>
          <time dateTime={s.at} title={exact(s.at, timeZone)}>
            {moment(s.at, timeZone)}
          </time>
          <div className="entry">
            {leads[s.kind] && <b>{leads[s.kind]}</b>}
            {s.text}
            {s.by && <small>{s.by}</small>}
          </div>
        </li>
      ))}
    </List>
  );
}

/** What comes next, and everything that happened. */
export function Story({ lead }: { lead: Sheet }) {
  const { timeZone } = useSession();
  const refresh = useRefresh();
  const open = lead.tasks.filter((t) => !t.doneAt);
  const done = async (id: string) => {
    try {
      await must(api.POST("/api/tasks/{id}/done", { params: { path: { id } } }));
      tell("Done.");
    } catch (e) {
      tellTrouble(e);
    }
    await refresh();
  };
  return (
    <section aria-label="Story" style={{ borderTop: "1px solid var(--hair)", paddingTop: 12 }}>
      <h2 style={{ marginBottom: 6 }}>{open.length ? "Next, and the story" : "The story"}</h2>
      {open.length > 0 && (
        <Tasks aria-label="Next steps">
          {open.map((t) => (
            <li key={t.id}>
              <span>
                {t.subject}{" "}
                <small title={exact(t.dueAt, timeZone)}>
                  {t.owner}, by {moment(t.dueAt, timeZone)}
                </small>
              </span>
              {lead.state !== "handed_over" && (
                <Button look="quiet" onPress={() => void done(t.id)}>
                  Done
                </Button>
              )}
            </li>
          ))}
        </Tasks>
      )}
      {open.length === 0 && lead.state === "in_work" && <p style={{ color: "var(--lamp-ink)", fontSize: 14, marginBottom: 8 }}>No next step.</p>}
      <StoryList entries={lead.story} />
    </section>
  );
}
