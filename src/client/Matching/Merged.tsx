import { useState } from "react";
import styled from "styled-components";
import { Button } from "../parts/Button";
import { moment } from "../parts/format";
import { tell, tellError } from "../parts/Toast";
import { small } from "../parts/theme";
import { useRefresh, useSession } from "../common/session";
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
  const refresh = useRefresh();
  const { timeZone } = useSession();
  const [busy, setBusy] = useState(false);
  const apart = async (id: string) => {
    setBusy(true);
    try {
      const { left } = await duplicateActs.apart(id);
      tell(left.length ? `They are two again. Changed since the merge, so left: ${left.join(", ")}.` : "They are two again, each as it was.");
    } catch (e) {
      tellError(e);
    } finally {
      await refresh();
      setBusy(false);
    }
  };
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
            <Button look="quiet" isDisabled={busy} onPress={() => void apart(m.id)}>
              Take apart
            </Button>
          </li>
        ))}
      </ul>
    </Box>
  );
}
