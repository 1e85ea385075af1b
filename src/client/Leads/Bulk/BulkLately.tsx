import styled from "styled-components";
import { Button } from "../../parts/Button";
import { Overlay } from "../../parts/Dialog";
import { count, exact, moment, whole } from "../../parts/format";
import { Skeleton, ErrorNote } from "../../parts/States";
import { useAct } from "../../common/acting";
import { Wrong } from "../../parts/Words";
import { small } from "../../parts/theme";
import { useMay, useSession } from "../../common/session";
import { isAtWork, takeBack, useEdits, type Edit } from "../../common/bulk";

const List = styled.ol`
  list-style: none;
  padding: 0;
  margin: 0;
  font-size: 14px;
  li {
    display: flex;
    gap: 16px;
    align-items: start;
    justify-content: space-between;
    padding: 8px 0;
    border-top: 1px solid var(--hair);
  }
  small {
    ${small}
    display: block;
  }
`;

/** What was done to many leads lately, with what was left and the way back. */
export function BulkLately({ onClose, onFollow }: { onClose: () => void; onFollow: (id: string) => void }) {
  const edits = useEdits();
  const act = useAct();
  const back = (id: string) => void act.run(() => takeBack(id), { changes: [], then: () => (onFollow(id), onClose()) });
  return (
    <Overlay title="Done to several at once" isOpen onClose={onClose} width={640}>
      {edits.isPending && <Skeleton rows={4} />}
      {edits.isError && <ErrorNote error={edits.error} />}
      {edits.data?.length === 0 && <p>Nothing yet. Tick some leads and change them; what you did stands here, with the way back.</p>}
      <List>
        {edits.data?.map((edit) => (
          <Line key={edit.id} edit={edit} onBack={() => back(edit.id)} />
        ))}
      </List>
    </Overlay>
  );
}

function Line({ edit, onBack }: { edit: Edit; onBack: () => void }) {
  const { timeZone } = useSession();
  const may = useMay("setUp") || edit.mine;
  const how = isAtWork(edit)
    ? `${edit.state === "doing" ? "changing" : "taking back"}, ${whole(edit.looked)} of ${whole(edit.state === "doing" ? edit.leads : edit.changed)}`
    : edit.state === "undone"
      ? `taken back, ${count(edit.restored, "lead")}`
      : `${count(edit.changed, "lead")} changed of ${whole(edit.leads)}`;
  return (
    <li>
      <div>
        {edit.words}
        <small>
          {edit.by}, <time title={exact(edit.createdAt, timeZone)}>{moment(edit.createdAt, timeZone)}</time> · {how}
        </small>
        {edit.left.map((l) => (
          <small key={l.why}>
            {whole(l.leads)} left: {l.why}
          </small>
        ))}
        {edit.trouble && <Wrong>{edit.trouble}</Wrong>}
      </div>
      {may && edit.state === "done" && edit.changed > 0 && (
        <Button look="quiet" onPress={onBack}>
          Take back
        </Button>
      )}
    </li>
  );
}
