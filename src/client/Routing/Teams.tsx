import { useState } from "react";
import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { Button } from "../parts/Button";
import { Overlay } from "../parts/Dialog";
import { ChoiceBox, TextBox } from "../parts/Field";
import { DayBox } from "../parts/DayBox";
import { count, day, whole } from "../parts/format";
import { Skeleton, ErrorNote } from "../parts/States";
import { tell, tellError } from "../parts/Toast";
import { small } from "../parts/theme";
import { Ticks } from "../parts/Ticks";
import { BulkForm } from "../Leads/Bulk/BulkForm";
import { useFollow } from "../common/bulk";
import { Head, Holidays } from "./Holidays";
import { MemberForm } from "./MemberForm";
import { useStaff, useStaffChange } from "./queries";
import type { Routing } from "./sheet";

const Grid = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(360px, 1fr));
  gap: 26px 36px;
  margin-top: 6px;
  header {
    display: flex;
    justify-content: space-between;
    align-items: baseline;
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

const Load = styled.span`
  display: block;
  height: 6px;
  background: var(--hair);
  border-radius: 1px;
  overflow: hidden;
  i {
    display: block;
    height: 100%;
  }
`;

const Who = styled.button`
  border: 0;
  background: none;
  padding: 0;
  font: inherit;
  text-align: left;
  cursor: pointer;
  color: inherit;
  &:hover {
    text-decoration: underline;
    text-underline-offset: 3px;
  }
`;

type Staff = Schema["StaffView"];
type Team = Routing["teams"][number];

/** The teams with their turns and load, who is away, and what each can do. */
export function Teams({ routing, maySetUp }: { routing: Routing; maySetUp: boolean }) {
  const staff = useStaff();
  const change = useStaffChange();
  const [member, setMember] = useState<string>();
  const [team, setTeam] = useState<Team | "new">();
  const [away, setAway] = useState(false);
  const [leaver, setLeaver] = useState<string>();
  const [followed, setFollowed] = useState<string | null>(null);
  useFollow(followed, setFollowed);
  if (staff.isPending) return <Skeleton />;
  if (staff.isError) return <ErrorNote error={staff.error} />;
  const chosen = staff.data.people.find((p) => p.id === member);
  return (
    <>
      <Grid>
        {routing.teams.map((t) => (
          <section key={t.key} aria-label={t.name}>
            <header>
              <h3>{t.name}</h3>
              {maySetUp && (
                <Button look="quiet" aria-label={`Change ${t.name}`} style={{ padding: 0 }} onPress={() => setTeam(t)}>
                  change
                </Button>
              )}
            </header>
            <ul>
              {t.members.map((m) => (
                <Member key={m.id} member={m} skills={staff.data.skills} onChoose={maySetUp ? () => setMember(m.id) : undefined} />
              ))}
            </ul>
            <small>
              {count(t.members.reduce((n, m) => n + m.given30Days, 0), "lead")} given in 30 days{t.onlyInHours ? "; who is not at work is passed over" : ""}
            </small>
          </section>
        ))}
      </Grid>
      <Head>
        <h2>Away</h2>
        {maySetUp && (
          <Button look="quiet" onPress={() => setAway(true)}>
            Enter an absence
          </Button>
        )}
        {maySetUp && (
          <Button look="quiet" onPress={() => setTeam("new")}>
            Make a team
          </Button>
        )}
      </Head>
      <ul style={{ listStyle: "none", padding: 0, fontSize: 14 }}>
        {staff.data.absences.length === 0 && <li>Nobody is away, now or later.</li>}
        {staff.data.absences.map((a) => (
          <li key={a.id} style={{ padding: "4px 0" }}>
            {a.name}, {day(a.starts)} to {day(new Date(Date.parse(a.ends) - 1).toISOString())}
            {a.why && `, ${a.why.toLowerCase()}`}
            {a.standInName ? `; ${a.standInName} stands in` : "; nobody stands in"}{" "}
            {maySetUp && (
              <Button look="quiet" aria-label={`Hand on the leads of ${a.name}`} onPress={() => setLeaver(a.person)}>
                Hand on their leads
              </Button>
            )}
            {maySetUp && (
              <Button
                look="quiet"
                onPress={() => change.mutate(() => must(api.DELETE("/api/staff/absences/{id}", { params: { path: { id: a.id } } })), { onError: tellError, onSuccess: () => tell(`${a.name} is not away`) })}
              >
                Take away
              </Button>
            )}
          </li>
        ))}
      </ul>
      <Holidays staff={staff.data} maySetUp={maySetUp} />
      {chosen && <MemberForm key={chosen.id} member={chosen} staff={staff.data} onClose={() => setMember(undefined)} onHandOn={() => (setMember(undefined), setLeaver(chosen.id))} />}
      {leaver && <BulkForm kind="onward" which={{ where: openOf(leaver) }} onClose={() => setLeaver(undefined)} onOrdered={setFollowed} />}
      {team && <TeamForm team={team === "new" ? null : team} staff={staff.data} onClose={() => setTeam(undefined)} />}
      {away && <AwayForm staff={staff.data} onClose={() => setAway(false)} />}
    </>
  );
}

// All that somebody has to work on, in the condition language.
const openOf = (person: string) =>
  JSON.stringify({
    all: [
      { field: "owner", is: "in", values: [person] },
      { field: "state", is: "in", values: ["new", "in_work", "on_hold", "qualified"] },
    ],
  });

type MemberProps = { member: Team["members"][number]; skills: Staff["skills"]; onChoose?: () => void };

function Member({ member: m, skills, onChoose }: MemberProps) {
  const share = m.open / m.capacity;
  const said = [m.away ? `away${m.awayUntil ? ` until ${day(m.awayUntil)}` : ""}${m.standIn ? `, ${m.standIn} stands in` : ""}` : m.next ? "next" : "", m.weight > 1 ? `${m.weight} turns` : "", m.languages.length > 0 ? `speaks ${m.languages.join(", ")}` : "", m.skills.map((s) => skills.find((n) => n.key === s)?.name.toLowerCase() ?? s).join(", ")].filter(Boolean);
  return (
    <li>
      <span>
        {onChoose ? (
          <Who type="button" onClick={onChoose}>
            {m.name}
          </Who>
        ) : (
          m.name
        )}
        <br />
        <small>{said.join(", ")}</small>
      </span>
      <span>
        <Load role="img" aria-label={`${m.open} of ${m.capacity}`}>
          <i style={{ width: `${Math.min(100, share * 100)}%`, background: share > 0.85 ? "var(--lamp)" : "var(--slate)" }} />
        </Load>
        <small style={{ whiteSpace: "nowrap" }}>
          {whole(m.open)} of {whole(m.capacity)} open
        </small>
      </span>
      <small style={{ textAlign: "right" }}>
        {whole(m.given30Days)} given
        {m.given30Days > 0 && (
          <>
            <br />
            fit {m.meanFit.toFixed(0)}, eng. {m.meanEngagement.toFixed(0)}
          </>
        )}
      </small>
    </li>
  );
}

function TeamForm({ team, staff, onClose }: { team: Team | null; staff: Staff; onClose: () => void }) {
  const [name, setName] = useState(team?.name ?? "");
  const [onlyInHours, setOnlyInHours] = useState(team?.onlyInHours ?? false);
  const [places, setPlaces] = useState(team?.members.map((m) => ({ person: m.id, weight: m.weight })) ?? []);
  const change = useStaffChange();
  const body = { name, onlyInHours, places };
  const keep = () =>
    change.mutate(() => (team ? must(api.PUT("/api/staff/teams/{key}", { params: { path: { key: team.key } }, body })) : must(api.POST("/api/staff/teams", { body }))), {
      onSuccess: () => (tell(team ? "The team is changed" : "The team is made"), onClose()),
    });
  const drop = () => change.mutate(() => must(api.DELETE("/api/staff/teams/{key}", { params: { path: { key: team!.key } } })), { onSuccess: () => (tell("The team is gone"), onClose()) });
  return (
    <Overlay title={team ? team.name : "A new team"} isOpen onClose={onClose} width={520}>
      <form
        style={{ display: "grid", gap: 12 }}
        onSubmit={(e) => {
          e.preventDefault();
          keep();
        }}
      >
        <TextBox label="Name" value={name} onChange={setName} error={change.error?.message} autoFocus />
        <Ticks label="Turns" options={[{ key: "hours", label: "pass over who is not at work just now" }]} value={onlyInHours ? ["hours"] : []} onChange={(keys) => setOnlyInHours(keys.length > 0)} />
        <ul style={{ listStyle: "none", padding: 0, margin: 0, maxHeight: 300, overflow: "auto", fontSize: 14 }} aria-label="People of the team">
          {staff.people.map((p) => {
            const place = places.find((x) => x.person === p.id);
            return (
              <li key={p.id} style={{ display: "flex", justifyContent: "space-between", gap: 10, alignItems: "center", minHeight: 34 }}>
                <label style={{ display: "flex", gap: 6 }}>
                  <input type="checkbox" checked={!!place} onChange={(e) => setPlaces(e.target.checked ? [...places, { person: p.id, weight: 1 }] : places.filter((x) => x.person !== p.id))} />
                  {p.name}
                </label>
                {place && (
                  <label>
                    turns{" "}
                    <input
                      type="number"
                      min={1}
                      max={100}
                      value={place.weight}
                      aria-label={`Turns of ${p.name}`}
                      style={{ width: 58 }}
                      onChange={(e) => setPlaces(places.map((x) => (x.person === p.id ? { ...x, weight: Math.max(1, Math.min(100, Number(e.target.value) || 1)) } : x)))}
                    />
                  </label>
                )}
              </li>
            );
          })}
        </ul>
        <p style={{ display: "flex", gap: 10 }}>
          <Button look="main" type="submit" isDisabled={change.isPending || !name.trim()}>
            Keep
          </Button>
          <Button onPress={onClose}>Leave it</Button>
          {team && (
            <Button look="quiet" style={{ marginLeft: "auto" }} onPress={drop}>
              Take the team away
            </Button>
          )}
        </p>
      </form>
    </Overlay>
  );
}

function AwayForm({ staff, onClose }: { staff: Staff; onClose: () => void }) {
  const [person, setPerson] = useState(staff.people[0]?.id ?? "");
  const [standIn, setStandIn] = useState("-");
  const [starts, setStarts] = useState("");
  const [ends, setEnds] = useState("");
  const [why, setWhy] = useState("");
  const change = useStaffChange();
  const people = staff.people.map((p) => ({ key: p.id, label: p.name }));
  return (
    <Overlay title="An absence" isOpen onClose={onClose} width={460}>
      <form
        style={{ display: "grid", gap: 12 }}
        onSubmit={(e) => {
          e.preventDefault();
          change.mutate(() => must(api.POST("/api/staff/absences", { body: { person, starts, ends, standIn: standIn === "-" ? null : standIn, why } })), { onSuccess: () => (tell("The absence is entered"), onClose()) });
        }}
      >
        <ChoiceBox label="Who" value={person} options={people} onChange={setPerson} />
        <DayBox label="First day away" value={starts} onChange={setStarts} />
        <DayBox label="Last day away" value={ends} onChange={setEnds} error={starts && ends && ends < starts ? "before the first" : undefined} />
        <ChoiceBox label="Who stands in" value={standIn} options={[{ key: "-", label: "nobody; it goes to the next in turn" }, ...people.filter((p) => p.key !== person)]} onChange={setStandIn} />
        <TextBox label="Why" value={why} onChange={setWhy} error={change.error?.message} />
        <p style={{ display: "flex", gap: 10 }}>
          <Button look="main" type="submit" isDisabled={change.isPending || !starts || !ends || ends < starts}>
            Keep
          </Button>
          <Button onPress={onClose}>Leave it</Button>
        </p>
      </form>
    </Overlay>
  );
}
