import { useState } from "react";
import { Link } from "react-router";
import styled from "styled-components";
import type { Schema } from "../api/client";
import { useAct } from "../common/acting";
import { useSession } from "../common/session";
import { Button } from "../parts/Button";
import { DataTable, FadedRow } from "../parts/DataTable";
import { exact, moment } from "../parts/format";
import { ShownOnce } from "../parts/ShownOnce";
import { Addresses } from "./Addresses";
import { Row } from "../parts/Layout";
import { ErrorNote, Skeleton } from "../parts/States";
import { Soft } from "../parts/Words";
import { ChangeForm, InviteForm } from "./PersonForm";
import { SeveralForm, type Invited } from "./SeveralForm";
import { StrongSignIn } from "./StrongSignIn";
import { peopleActs, usePeopleHere, type OneTimeLink, type PersonLine } from "./queries";

const Side = styled.div`
  display: flex;
  gap: 10px;
`;

/** A way to a page, beside buttons. */
const Go = styled(Link)`
  align-self: center;
  padding: 0 4px;
  font-size: 14px;
`;

type Shown = { person: PersonLine; link: OneTimeLink; sent: boolean };

const head = ["Name", "Email address", "Role", "Teams", "Reports to", "State", { label: "Acts", isUnseen: true }];

/** Who works here: invited, changed, let go. */
export function PeopleList() {
  const here = usePeopleHere();
  const [opened, setOpened] = useState<PersonLine | "new" | "several">();
  const [invited, setInvited] = useState<Invited[]>();
  const [shown, setShown] = useState<Shown>();
  const close = () => setOpened(undefined);
  if (here.isPending) return <Skeleton />;
  if (here.isError) return <ErrorNote error={here.error} />;
  const { people, roles, sends, teams } = here.data;
  return (
    <>
      <Row $below={4}>
        <Button look="main" onPress={() => setOpened("new")}>
          Invite somebody
        </Button>
        <Button onPress={() => setOpened("several")}>Invite several</Button>
      </Row>
      {shown && <Address shown={shown} />}
      {invited && <Addresses invited={invited} />}
      <DataTable label="People" head={head} hasButtons>
        {people.map((p) => (
          <Line key={p.id} person={p} role={roles.filter((r) => p.roles.includes(r.key)).map((r) => r.label).join(", ")} teams={teams} onChange={() => setOpened(p)} onLink={(link) => setShown({ person: p, link, sent: false })} />
        ))}
      </DataTable>
      <StrongSignIn roles={roles} />
      {opened === "new" && <InviteForm choices={{ people, roles, teams }} sends={sends} onLink={(person, link, sent) => setShown({ person, link, sent })} onClose={close} />}
      {opened === "several" && <SeveralForm roles={roles} teams={teams} sends={sends} onInvited={setInvited} onClose={close} />}
      {opened && opened !== "new" && opened !== "several" && <ChangeForm key={opened.version} person={opened} choices={{ people, roles, teams }} onClose={close} />}
    </>
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

function Line({ person: p, role, teams, onChange, onLink }: { person: PersonLine; role?: string; teams: Schema["PeopleView"]["teams"]; onChange: () => void; onLink: (link: OneTimeLink) => void }) {
  return (
    <FadedRow $faded={p.state === "left"}>
      <td>
        <b>{p.name}</b>
        <br />
        <Soft>{p.signInName}</Soft>
      </td>
      <td>{p.email}</td>
      <td>{role}</td>
      <td>{p.teams.map((t) => teams.find((x) => x.key === t)?.label ?? t).join(", ")}</td>
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

function State({ person: { state, linkEndsAt, seenAt, hasSecondStep } }: { person: PersonLine }) {
  const { timeZone } = useSession();
  if (state === "left") return <>not here</>;
  if (state === "invited") return <>{linkEndsAt ? `invited, until ${moment(linkEndsAt, timeZone)}` : "has no address to come in by"}</>;
  return <>{hasSecondStep && "with second step, "}{seenAt ? `last seen ${moment(seenAt, timeZone)}` : "never seen"}</>;
}

function Acts({ person: p, onChange, onLink }: { person: PersonLine; onChange: () => void; onLink: (link: OneTimeLink) => void }) {
  const { id: me } = useSession();
  const act = useAct();
  const link = () => void act.run(() => peopleActs.link(p.id, false), { changes: ["people"], then: onLink });
  const endStep = () => void act.run(() => peopleActs.endSecondStep(p.id), { changes: ["people"], words: `${p.name} signs in by password alone, until they make another second step.` });
  const endProvider = () => void act.run(() => peopleActs.endProvider(p.id), { changes: ["people"], words: `The next account with the address of ${p.name} at the provider is theirs.` });
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
      <Go to={`/setup/people/${p.id}/rights`} aria-label={`Rights of ${p.name}`}>
        Rights
      </Go>
      {p.state !== "invited" && (
        <Go to={`/setup/people/${p.id}/handing`} aria-label={p.state === "here" ? `Let go ${p.name}` : `Hand on what ${p.name} holds`}>
          {p.state === "here" ? "Let go" : "Hand on"}
        </Go>
      )}
      {p.hasSecondStep && p.id !== me && (
        <Button look="quiet" aria-label={`Second step lost by ${p.name}`} isPending={act.busy} onPress={endStep}>
          Second step lost
        </Button>
      )}
      {p.hasProvider && (
        <Button look="quiet" aria-label={`Forget the account at the provider of ${p.name}`} isPending={act.busy} onPress={endProvider}>
          Forget the account
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
