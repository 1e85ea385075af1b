import { useState } from "react";
import styled from "styled-components";
import { useAct } from "../common/acting";
import { useSession } from "../common/session";
import { Button } from "../parts/Button";
import { DataTable, FadedRow } from "../parts/DataTable";
import { exact, moment } from "../parts/format";
import { ShownOnce } from "../parts/ShownOnce";
import { SetupPage } from "../Setup/SetupPage";
import { Soft } from "../parts/Words";
import { ChangeForm, InviteForm } from "./PersonForm";
import { peopleActs, usePeopleHere, type OneTimeLink, type PersonLine } from "./queries";

const Side = styled.div`
  display: flex;
  gap: 10px;
`;

type Shown = { person: PersonLine; link: OneTimeLink; sent: boolean };

const head = ["Name", "Email address", "Role", "Teams", "Reports to", "State", { label: "Acts", isUnseen: true }];

/** Who works here: invited, changed, let go. */
export function PeoplePage() {
  const here = usePeopleHere();
  const [opened, setOpened] = useState<PersonLine | "new">();
  const [shown, setShown] = useState<Shown>();
  const close = () => setOpened(undefined);
  const invite = (
    <Button look="main" onPress={() => setOpened("new")}>
      Invite somebody
    </Button>
  );
  return (
    <SetupPage title="People" intro="Who works here, and as what. Somebody who is invited comes in by an address that opens once, and chooses a password there." query={here} beside={invite}>
      {({ people, roles, sends }) => (
        <>
          {shown && <Address shown={shown} />}
          <DataTable label="People" head={head} hasButtons>
            {people.map((p) => (
              <Line key={p.id} person={p} role={roles.find((r) => r.key === p.role)?.label} onChange={() => setOpened(p)} onLink={(link) => setShown({ person: p, link, sent: false })} />
            ))}
          </DataTable>
          {opened === "new" && <InviteForm choices={{ people, roles }} sends={sends} onLink={(person, link, sent) => setShown({ person, link, sent })} onClose={close} />}
          {opened && opened !== "new" && <ChangeForm key={opened.version} person={opened} choices={{ people, roles }} onClose={close} />}
        </>
      )}
    </SetupPage>
  );
}

function Address({ shown: { person, link, sent } }: { shown: Shown }) {
  const { timeZone } = useSession();
  return (
    <ShownOnce secret={link.address}>
      <strong>The address for {person.name}.</strong> It opens once, until <time title={exact(link.endsAt, timeZone)}>{moment(link.endsAt, timeZone)}</time>, and is shown this once
      {sent ? "; the letter with it is on its way." : ". Hand it to them and to nobody else."}
    </ShownOnce>
  );
}

function Line({ person: p, role, onChange, onLink }: { person: PersonLine; role?: string; onChange: () => void; onLink: (link: OneTimeLink) => void }) {
  return (
    <FadedRow $faded={p.state === "left"}>
      <td>
        <b>{p.name}</b>
        <br />
        <Soft>{p.signInName}</Soft>
      </td>
      <td>{p.email}</td>
      <td>{role}</td>
      <td>{p.teams.join(", ")}</td>
      <td>{p.managerName}</td>
      <td>
        <State person={p} />
      </td>
      <td>
        <Acts person={p} onChange={onChange} onLink={onLink} />
      </td>
    </FadedRow>
  );
}

function State({ person: { state, linkEndsAt, seenAt } }: { person: PersonLine }) {
  const { timeZone } = useSession();
  if (state === "left") return <>not here</>;
  if (state === "invited") return <>{linkEndsAt ? `invited, until ${moment(linkEndsAt, timeZone)}` : "has no address to come in by"}</>;
  return <>{seenAt ? `last seen ${moment(seenAt, timeZone)}` : "never seen"}</>;
}

function Acts({ person: p, onChange, onLink }: { person: PersonLine; onChange: () => void; onLink: (link: OneTimeLink) => void }) {
  const act = useAct();
  const link = () => void act.run(() => peopleActs.link(p.id, false), { changes: ["people"], then: onLink });
  const suspend = () => void act.run(() => peopleActs.suspend(p.id), { changes: ["people"], words: `${p.name} can no longer sign in, and gets no leads.`, back: p.state === "here" ? () => peopleActs.comeBack(p.id) : undefined });
  const comeBack = () => void act.run(() => peopleActs.comeBack(p.id), { changes: ["people"], words: `${p.name} is here again.`, back: () => peopleActs.suspend(p.id) });
  return (
    <Side>
      <Button look="quiet" aria-label={`Change ${p.name}`} onPress={onChange}>
        Change
      </Button>
      {p.state !== "left" && (
        <Button look="quiet" aria-label={`${p.state === "invited" ? "Invitation" : "Another password"} for ${p.name}`} isPending={act.busy} onPress={link}>
          {p.state === "invited" ? "Invitation" : "Password"}
        </Button>
      )}
      {p.state === "here" && (
        <Button look="quiet" aria-label={`Let go ${p.name}`} isPending={act.busy} onPress={suspend}>
          Let go
        </Button>
      )}
      {p.state === "left" && (
        <Button look="quiet" aria-label={`Come back, ${p.name}`} isPending={act.busy} onPress={comeBack}>
          Come back
        </Button>
      )}
    </Side>
  );
}
