import { useState } from "react";
import styled from "styled-components";
import { useAct } from "../../common/acting";
import { useForm } from "../../common/form";
import { FormBox } from "../../common/FormBox";
import { useSession } from "../../common/session";
import { Button } from "../../parts/Button";
import { ChoiceBox, TextBox } from "../../parts/Field";
import { exact, moment } from "../../parts/format";
import { Block } from "../../parts/Layout";
import { useNow } from "../../parts/now";
import { small } from "../../parts/theme";
import type { Sheet } from "../queries";
import { MeetingForm } from "./MeetingForm";
import { acts, useResources, written, type Meeting } from "./queries";

const List = styled.ul`
  list-style: none;
  padding: 0;
  margin: 0;
  font-size: 14px;
  li {
    border-bottom: 1px solid var(--hair);
    padding: 4px 0;
  }
  .head {
    display: flex;
    flex-wrap: wrap;
    justify-content: space-between;
    gap: 2px 12px;
    align-items: baseline;
  }
  .head > :first-child {
    flex: 1 1 130px;
    min-width: 0;
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
  const [doing, setDoing] = useState<"result" | "change" | null>(null);
  const done = () => setDoing(null);
  return (
    <li>
      <div className="head">
        <b>{meeting.subject}</b>
        {mayWrite && !doing && <LineActs meeting={meeting} onDo={setDoing} />}
      </div>
      <About meeting={meeting} />
      {doing === "result" && <Result meeting={meeting} onDone={done} />}
      {doing === "change" && <MeetingForm meeting={meeting} onLeave={done} onDone={done} onKeep={(body) => acts.putMeeting(meeting.id, body)} />}
    </li>
  );
}

function About({ meeting }: { meeting: Meeting }) {
  const { timeZone } = useSession();
  const names = useResources().data ?? [];
  const both = [meeting.peopleNames.join(", "), meeting.guests.join(", ")].filter(Boolean).join(" with ");
  const along = meeting.resources.map((key) => names.find((r) => r.key === key)?.name ?? key).join(", ");
  return (
    <>
      <small title={exact(meeting.startsAt, timeZone)}>
        {moment(meeting.startsAt, timeZone)}
        {meeting.place && `, ${meeting.place}`}
        {both && ` · ${both}`}
        {along && ` · takes ${along} along`}
      </small>
      {meeting.goal && <small>For: {meeting.goal}</small>}
    </>
  );
}

function LineActs({ meeting, onDo }: { meeting: Meeting; onDo: (doing: "result" | "change") => void }) {
  const act = useAct();
  const over = Date.parse(meeting.endsAt) < useNow();
  const callOff = () => act.run(() => acts.callOff(meeting.id), { changes: ["work"], words: "The meeting is called off.", back: () => acts.putMeeting(meeting.id, written(meeting)) });
  return (
    <span className="acts">
      <Button look="quiet" onPress={() => onDo("result")}>
        {over ? "Say what came of it" : "Result"}
      </Button>
      <Button look="quiet" onPress={() => onDo("change")}>
        Change
      </Button>
      <Button look="quiet" onPress={() => void callOff()}>
        Call off
      </Button>
    </span>
  );
}

function Result({ meeting, onDone }: { meeting: Meeting; onDone: () => void }) {
  const form = useForm({ called: "what came of the meeting", name: `${meeting.id}:result`, initial: { result: "", satisfied: "" } });
  const send = () => form.send(({ result, satisfied }) => acts.conclude(meeting.id, { result, satisfaction: satisfied ? Number(satisfied) : null }), { changes: ["work"], words: "Kept in the story.", then: onDone });
  return (
    <Block $above={2} $below={2}>
      <FormBox form={form} words="Keep" look="plain" onSend={send} onLeave={onDone} isReady={!!form.values.result.trim()}>
        <TextBox label="What came of it" lines={2} {...form.bind("result")} autoFocus />
        <Block $width={180}>
          <ChoiceBox label="How satisfied they were" {...form.bind("satisfied")} options={satisfactions} />
        </Block>
      </FormBox>
    </Block>
  );
}
