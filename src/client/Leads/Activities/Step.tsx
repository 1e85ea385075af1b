import { useState } from "react";
import styled from "styled-components";
import { useAct } from "../../common/acting";
import { useWorks, useSession } from "../../common/session";
import { Button } from "../../parts/Button";
import { exact, moment } from "../../parts/format";
import { useNow } from "../../parts/now";
import { small } from "../../parts/theme";
import { Urgent } from "../../parts/Urgent";
import { acts, repeatWords, type Task } from "./queries";
import { TaskForm } from "./TaskForm";

const Line = styled.li<{ $late?: boolean }>`
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: baseline;
  gap: 2px 12px;
  border-bottom: 1px solid var(--hair);
  padding: 4px 0;
  font-size: 14px;
  & > :only-child {
    flex: 1;
  }
  small {
    ${small}
    ${(p) => p.$late && "color: var(--lamp-ink);"}
  }
`;

/** A task that is open: done with one press, or changed in place. */
export function Step({ task, mayWrite }: { task: Task; mayWrite: boolean }) {
  const { timeZone } = useSession();
  const now = useNow();
  const act = useAct();
  const [changing, setChanging] = useState(false);
  const may = useWorks("workLeads")(task.ownerId) && mayWrite;
  const late = Date.parse(task.dueAt) < now;
  if (changing)
    return (
      <Line>
        <TaskForm task={task} onLeave={() => setChanging(false)} onDone={() => setChanging(false)} onKeep={(body) => acts.change(task.id, body)} />
      </Line>
    );
  return (
    <Line $late={late}>
      <span>
        {task.subject} {task.urgent && <Urgent />}{" "}
        <small title={exact(task.dueAt, timeZone)}>
          {task.owner}, {late ? "was due" : "by"} {moment(task.dueAt, timeZone)}
          {task.repeat && `, ${repeatWords(task.repeat)}`}
        </small>
      </span>
      {may && (
        <span>
          <Button look="quiet" onPress={() => void act.run(() => acts.done(task.id), { changes: ["work"], words: "Done.", back: () => acts.reopen(task.id) })}>
            Done
          </Button>
          <Button look="quiet" onPress={() => setChanging(true)}>
            Change
          </Button>
        </span>
      )}
    </Line>
  );
}
