import { useState } from "react";
import styled from "styled-components";
import { type Schema } from "../api/client";
import { Button } from "../parts/Button";
import { count } from "../parts/format";
import { small } from "../parts/theme";
import { MendBox } from "./MendBox";
import { useMend, useProblems } from "./queries";

const List = styled.ul`
  list-style: none;
  padding: 0;
  margin: 0 0 18px;
  border-top: 1px solid var(--hair);
  li {
    display: grid;
    grid-template-columns: minmax(0, 1fr) auto;
    gap: 4px 16px;
    align-items: center;
    padding: 6px 0;
    border-bottom: 1px solid var(--hair);
    font-size: 14px;
  }
  small {
    ${small}
  }
  .acts {
    display: flex;
    flex-wrap: wrap;
    justify-content: flex-end;
    gap: 8px;
  }
  .other {
    grid-column: 1 / -1;
  }
  @media (max-width: 600px) {
    li {
      grid-template-columns: minmax(0, 1fr);
    }
    .acts {
      justify-content: flex-start;
    }
  }
`;

const Shown = 5;

/** Values that could not be read, alike ones together: put right in all their rows at once. */
export function Alike({ imported }: { imported: Schema["ImportView"] }) {
  const problems = useProblems(imported);
  const [all, setAll] = useState(false);
  const list = problems.data ?? [];
  if (list.length === 0) return null;
  return (
    <section aria-label="Values to put right">
      <h2>Values that could not be read</h2>
      <List>
        {list.slice(0, all ? undefined : Shown).map((g) => (
          <Group key={`${g.field} ${g.found}`} imported={imported} group={g} />
        ))}
      </List>
      {list.length > Shown && !all && (
        <Button look="quiet" onPress={() => setAll(true)}>
          Show all {list.length}
        </Button>
      )}
    </section>
  );
}

function Group({ imported, group }: { imported: Schema["ImportView"]; group: Schema["ProblemGroup"] }) {
  const { mend, busy } = useMend(imported.id);
  const [other, setOther] = useState(false);
  const put = (value: string) => mend({ field: group.field, found: group.found, put: value, row: 0 });
  return (
    <li>
      <span title={group.words}>
        {count(group.rows, "row")}: <b>{group.found}</b> <small>{group.label.toLowerCase()}</small>
      </span>
      <span className="acts">
        {group.proposals.map((p, i) => (
          <Button key={p.stored} look={i === 0 ? "plain" : "quiet"} isDisabled={busy} onPress={() => void put(p.stored)}>
            {p.label}
          </Button>
        ))}
        <Button look="quiet" onPress={() => setOther(!other)} aria-expanded={other}>
          something else
        </Button>
        <Button look="quiet" isDisabled={busy} onPress={() => void put("")}>
          leave blank
        </Button>
      </span>
      {other && (
        <div className="other">
          <MendBox label={`${group.label} instead of ${group.found}`} value={group.found} onPut={put} />
        </div>
      )}
    </li>
  );
}
