import { useState } from "react";
import styled from "styled-components";
import { useUndoable } from "../../parts/acting";
import { Button } from "../../parts/Button";
import { ChoiceBox, TextBox } from "../../parts/Field";
import { exact, moment } from "../../parts/format";
import { useNow } from "../../parts/now";
import { tell, tellError } from "../../parts/Toast";
import { small } from "../../parts/theme";
import { useRefresh, useSession } from "../../Setup/session";
import type { Sheet } from "../queries";
import { MeetingForm } from "./MeetingForm";
import { acts, useResources, written, type Meeting } from "./queries";

const List = styled.ul`
  list-style: none;
  padding: 0;
  margin: 0 0 14px;
  font-size: 14px;
  li {
    border-bottom: 1px solid var(--hair);
    padding: 6px 0;
  }
  .head {
    display: flex;
    justify-content: space-between;
    gap: 12px;
    align-items: baseline;
  }
  small {
    ${small}
    display: block;
  }
  .acts {
    display: flex;
    gap: 10px;
    white-space: nowrap;
  }
`;

const satisfactions = [
  { key: "", label: "not said" },
  { key: "5", label: "5, delighted" },
  { key: "4", label: "4, content" },
  { key: "3", label: "3, neither" },
  { key: "2", label: "2, not content" },
  { key: "1", label: "1, annoyed" },
];

/** Meetings ahead, and those nothing is said of yet. */
export function Meetings({ lead, mayWrite }: { lead: Sheet; mayWrite: boolean }) {
  const open = lead.meetings.filter((m) => !m.cancelled && !m.result);
  if (open.length === 0) return null;
  return (
    <List aria-label="Meetings">
      {open.map((m) => (
        <Line key={m.id} meeting={m} mayWrite={mayWrite} />
      ))}
    </List>
  );
}

function Line({ meeting, mayWrite }: { meeting: Meeting; mayWrite: boolean }) {
  const { timeZone } = useSession();
  const refresh = useRefresh();
  const run = useUndoable();
  const [doing, setDoing] = useState<"result" | "change" | null>(null);
  const names = useResources().data ?? [];
  const over = Date.parse(meeting.endsAt) < useNow();
  const who = [meeting.peopleNames.join(", "), meeting.guests.join(", ")].filter(Boolean).join(" with ");
  const along = meeting.resources.map((key) => names.find((r) => r.key === key)?.name ?? key).join(", ");
  const callOff = () => run(() => acts.callOff(meeting.id), "The meeting is called off.", () => acts.putMeeting(meeting.id, written(meeting)));
  return (
    <li>
      <div className="head">
        <span>
          <b>{meeting.subject}</b>
          <small title={exact(meeting.startsAt, timeZone)}>
            {moment(meeting.startsAt, timeZone)}
            {meeting.place && `, ${meeting.place}`}
            {who && ` · ${who}`}
            {along && ` · takes ${along} along`}
          </small>
          {meeting.goal && <small>For: {meeting.goal}</small>}
        </span>
        {mayWrite && !doing && (
          <span className="acts">
            <Button look="quiet" onPress={() => setDoing("result")}>
              {over ? "Say what came of it" : "Result"}
            </Button>
            <Button look="quiet" onPress={() => setDoing("change")}>
              Change
            </Button>
            <Button look="quiet" onPress={() => void callOff()}>
              Call off
            </Button>
          </span>
        )}
      </div>
      {doing === "result" && <Result meeting={meeting} onDone={() => setDoing(null)} />}
      {doing === "change" && <MeetingForm meeting={meeting} onLeave={() => setDoing(null)} onKeep={(body) => acts.putMeeting(meeting.id, body).then(() => (setDoing(null), refresh()))} />}
    </li>
  );
}

function Result({ meeting, onDone }: { meeting: Meeting; onDone: () => void }) {
  const refresh = useRefresh();
  const [result, setResult] = useState("");
  const [satisfied, setSatisfied] = useState("");
  const keep = async () => {
    try {
      await acts.conclude(meeting.id, { result, satisfaction: satisfied ? Number(satisfied) : null });
      onDone();
      await refresh();
      tell("Kept in the story.");
    } catch (e) {
      tellError(e);
    }
  };
  return (
    <form style={{ display: "grid", gap: 8, margin: "8px 0" }} onSubmit={(e) => (e.preventDefault(), void keep())}>
      <TextBox label="What came of it" lines value={result} onChange={setResult} autoFocus />
      <div style={{ display: "flex", gap: 12, alignItems: "end" }}>
        <div style={{ width: 180 }}>
          <ChoiceBox label="How satisfied they were" value={satisfied} options={satisfactions} onChange={setSatisfied} />
        </div>
        <Button type="submit" isDisabled={!result.trim()}>
          Keep
        </Button>
        <Button look="quiet" onPress={onDone}>
          Leave it
        </Button>
      </div>
    </form>
  );
}
