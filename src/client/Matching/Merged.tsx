import styled from "styled-components";
import { Button } from "../parts/Button";
import { moment } from "../parts/format";
import { small } from "../parts/theme";
import { useAct } from "../common/acting";
import { useSession } from "../common/session";
import { duplicateActs, useMerges } from "./queries";

const Box = styled.details`
  padding: 12px 18px 24px;
  summary {
    cursor: pointer;
    ${small}
  }
  ul {
    list-style: none;
    padding: 0;
    margin: 6px 0 0;
  }
  li {
    padding: 6px 0;
    border-bottom: 1px solid var(--hair);
    font-size: 14px;
  }
  small {
    ${small}
    display: block;
  }
`;

/** The last merges, each with its way back. */
export function Merged() {
  const merges = useMerges();
  const act = useAct();
  const { timeZone } = useSession();
  const apart = (id: string) =>
    void act.run(() => duplicateActs.apart(id), { changes: ["duplicates"], words: ({ left }) => (left.length ? `They are two again. Changed since the merge, so left: ${left.join(", ")}.` : "They are two again, each as it was.") });
  if (!merges.data?.length) return null;
  return (
    <Box>
      <summary>Merged before ({merges.data.length})</summary>
      <ul>
        {merges.data.map((m) => (
          <li key={m.id}>
            {m.goneName} into {m.keptName}
            <small>
              {moment(m.at, timeZone)}, {m.by}
            </small>
            <Button look="quiet" isPending={act.busy} onPress={() => apart(m.id)}>
              Take apart
            </Button>
          </li>
        ))}
      </ul>
    </Box>
  );
}
