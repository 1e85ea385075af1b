import { useState } from "react";
import styled from "styled-components";
import type { Schema } from "../api/client";
import { useAct } from "../common/acting";
import { useFollow } from "../common/bulk";
import { BulkForm } from "../Leads/Bulk/BulkForm";
import { Button } from "../parts/Button";
import { count, day } from "../parts/format";
import { Plain } from "../parts/Layout";
import { ErrorNote, Skeleton } from "../parts/States";
import { small } from "../parts/theme";
import { AwayForm } from "./AwayForm";
import { Head, Holidays } from "./Holidays";
import { MemberForm } from "./MemberForm";
import { staffActs, useShowStaff, useStaff } from "./queries";
import type { Routing } from "./sheet";
import { TeamForm, type Team } from "./TeamForm";
import { TeamMember } from "./TeamMember";

const Grid = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(360px, 100%), 1fr));
  gap: 26px 36px;
  margin-top: 6px;
  header {
    display: flex;
    justify-content: space-between;
    align-items: baseline;
  }
  h2 {
    font-size: 15px;
  }
  ul {
    list-style: none;
    padding: 0;
    margin: 0;
    font-size: 14px;
  }
  li {
    display: grid;
    grid-template-columns: minmax(0, 1fr) 84px 96px;
    gap: 10px;
    align-items: center;
    padding: 6px 0;
    border-bottom: 1px solid var(--hair);
  }
  small {
    ${small}
  }
`;

type Staff = Schema["StaffView"];

/** What is open over the page. */
type Doing = { kind: "member" | "hand-on"; person: string } | { kind: "team"; team: Team | null } | { kind: "away" } | null;

/** The teams with their turns and load, the absences, and what each person can do. */
export function Teams({ routing, maySetUp }: { routing: Routing; maySetUp: boolean }) {
  const staff = useStaff();
  const [doing, setDoing] = useState<Doing>(null);
  if (staff.isPending) return <Skeleton />;
  if (staff.isError) return <ErrorNote error={staff.error} />;
  const onDo = maySetUp ? setDoing : undefined;
  return (
    <>
      <Grid>
        {routing.teams.map((t) => (
          <OneTeam key={t.key} team={t} staff={staff.data} onDo={onDo} />
        ))}
      </Grid>
      <Absences staff={staff.data} onDo={onDo} />
      <Holidays staff={staff.data} maySetUp={maySetUp} />
      <Forms doing={doing} staff={staff.data} onDo={setDoing} />
    </>
  );
}

type PartProps = { staff: Staff; onDo?: (doing: Doing) => void };

function OneTeam({ team: t, staff, onDo }: PartProps & { team: Team }) {
  const given = t.members.reduce((n, m) => n + m.given30Days, 0);
  return (
    <section aria-label={t.name}>
      <header>
        <h2>{t.name}</h2>
        {onDo && (
          <Button look="inline" aria-label={`Change ${t.name}`} onPress={() => onDo({ kind: "team", team: t })}>
            change
          </Button>
        )}
      </header>
      <ul>
        {t.members.map((m) => (
          <TeamMember key={m.id} member={m} skills={staff.skills} onChoose={onDo && (() => onDo({ kind: "member", person: m.id }))} />
        ))}
      </ul>
      <small>
        {count(given, "lead")} given in 30 days{t.onlyInHours ? "; who is not at work is passed over" : ""}
      </small>
    </section>
  );
}

function Absences({ staff, onDo }: PartProps) {
  return (
    <>
      <Head>
        <h2>Away</h2>
        {onDo && (
          <Button look="quiet" onPress={() => onDo({ kind: "away" })}>
            Enter an absence
          </Button>
        )}
        {onDo && (
          <Button look="quiet" onPress={() => onDo({ kind: "team", team: null })}>
            Make a team
          </Button>
        )}
      </Head>
      <Plain $gap={1}>
        {staff.absences.length === 0 && <li>Nobody is away, now or later.</li>}
        {staff.absences.map((a) => (
          <Absence key={a.id} absence={a} onDo={onDo} />
        ))}
      </Plain>
    </>
  );
}

function Absence({ absence: a, onDo }: { absence: Staff["absences"][number]; onDo?: (doing: Doing) => void }) {
  const show = useShowStaff();
  const act = useAct();
  const drop = () => void act.run(() => staffActs.dropAbsence(a.id).then(show), { changes: ["staff"], words: `${a.name} is not away` });
  return (
    <li>
      {a.name}, {day(a.starts)} to {day(new Date(Date.parse(a.ends) - 1).toISOString())}
      {a.why && `, ${a.why.toLowerCase()}`}
      {a.standInName ? `; ${a.standInName} stands in` : "; nobody stands in"}{" "}
      {onDo && (
        <>
          <Button look="quiet" aria-label={`Hand on the leads of ${a.name}`} onPress={() => onDo({ kind: "hand-on", person: a.person })}>
            Hand on their leads
          </Button>
          <Button look="quiet" isPending={act.busy} onPress={drop}>
            Take away
          </Button>
        </>
      )}
    </li>
  );
}

function Forms({ doing, staff, onDo }: { doing: Doing; staff: Staff; onDo: (doing: Doing) => void }) {
  const [followed, setFollowed] = useState<string | null>(null);
  useFollow(followed, setFollowed);
  const close = () => onDo(null);
  if (doing?.kind === "away") return <AwayForm staff={staff} onClose={close} />;
  if (doing?.kind === "team") return <TeamForm team={doing.team} staff={staff} onClose={close} />;
  if (doing?.kind === "hand-on") return <BulkForm kind="onward" which={{ where: openOf(doing.person) }} onClose={close} onOrdered={setFollowed} />;
  const member = doing?.kind === "member" && staff.people.find((p) => p.id === doing.person);
  return member ? <MemberForm member={member} staff={staff} onClose={close} onHandOn={() => onDo({ kind: "hand-on", person: member.id })} /> : null;
}

// All that somebody has to work on, in the condition language.
const openOf = (person: string) =>
  JSON.stringify({
    all: [
      { field: "owner", is: "in", values: [person] },
      { field: "state", is: "in", values: ["new", "in_work", "on_hold", "qualified"] },
    ],
  });
