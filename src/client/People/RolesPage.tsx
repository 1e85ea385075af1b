import { useState } from "react";
import { Link } from "react-router";
import { useAct } from "../common/acting";
import { Bench, Head, Inner, Pane } from "../parts/Bench";
import { Button } from "../parts/Button";
import { DataTable } from "../parts/DataTable";
import { count } from "../parts/format";
import { Row } from "../parts/Layout";
import { ErrorNote, Skeleton } from "../parts/States";
import { Soft } from "../parts/Words";
import { KnownCounts } from "./KnownCounts";
import { reachWords } from "./reach";
import { RoleForm } from "./RoleForm";
import { roleActs, useRoles, type RoleLine, type Roles } from "./queries";

/** What each role sees and does. */
export function RolesPage() {
  const roles = useRoles();
  return (
    <Bench>
      <Pane aria-label="Roles">
        <Inner>
          <Head>
            <div>
              <h1>Roles</h1>
              <p>
                What each role sees and does. Somebody with several has the most that any of them gives. Whose role is whose stands with the <Link to="/setup/people">people</Link>.
              </p>
            </div>
          </Head>
          {roles.isPending && <Skeleton />}
          {roles.isError && <ErrorNote error={roles.error} />}
          {roles.data && <List roles={roles.data} />}
        </Inner>
      </Pane>
    </Bench>
  );
}

type Opened = { role: RoleLine; isCopy: boolean };

function List({ roles }: { roles: Roles }) {
  const [opened, setOpened] = useState<Opened>();
  return (
    <>
      <DataTable label="Roles" head={["Role", "Sees leads", "Sees deals", "Works", "Who has it", { label: "Acts", isUnseen: true }]} hasButtons>
        {roles.roles.map((r) => (
          <Line key={r.key} line={r} onChange={() => setOpened({ role: r, isCopy: false })} onCopy={() => setOpened({ role: r, isCopy: true })} />
        ))}
      </DataTable>
      <KnownCounts />
      {opened && <RoleForm key={`${opened.role.key}:${opened.isCopy}`} roles={roles} {...opened} onClose={() => setOpened(undefined)} />}
    </>
  );
}

const works = ({ role }: RoleLine) => {
  const acts = [role.may.includes("workLeads") && "leads", role.may.includes("workDeals") && "deals"].filter(Boolean).join(" and ");
  return acts ? `${role.ownOnly ? "their own " : ""}${acts}` : "";
};

function Line({ line, onChange, onCopy }: { line: RoleLine; onChange: () => void; onCopy: () => void }) {
  const act = useAct();
  const { role, isShipped, version, people } = line;
  const words = isShipped ? "Put back" : "Take away";
  const drop = () => void act.run(() => roleActs.drop(line), { changes: ["people", "session"], words: isShipped ? `${role.name} is as it was shipped.` : `${role.name} is taken away.`, back: () => roleActs.bringBack(line) });
  return (
    <tr>
      <td>
        <b>{role.name}</b>
        <br />
        <Soft>{!isShipped ? "of your own" : version > 0 ? "changed" : "as shipped"}</Soft>
      </td>
      <td>{reachWords(role.sees.lead)}</td>
      <td>{reachWords(role.sees.deal)}</td>
      <td>{works(line)}</td>
      <td title={people.join(", ")}>{people.length === 0 ? "nobody" : people.length < 3 ? people.join(", ") : count(people.length, "person", "people")}</td>
      <td>
        <Row $gap={1}>
          <Button look="quiet" aria-label={`Change ${role.name}`} onPress={onChange}>
            Change
          </Button>
          <Button look="quiet" aria-label={`Copy ${role.name}`} onPress={onCopy}>
            Copy
          </Button>
          {version > 0 && (
            <Button look="quiet" aria-label={`${words} ${role.name}`} isPending={act.busy} onPress={drop}>
              {words}
            </Button>
          )}
        </Row>
      </td>
    </tr>
  );
}
