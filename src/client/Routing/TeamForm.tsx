import styled from "styled-components";
import type { Schema } from "../api/client";
import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import { NumberBox } from "../common/NumberBox";
import { Button } from "../parts/Button";
import { Overlay } from "../parts/Dialog";
import { TextBox } from "../parts/Field";
import { Block } from "../parts/Layout";
import { small } from "../parts/theme";
import { Tick } from "../parts/Ticks";
import { staffActs, useShowStaff } from "./queries";
import type { Routing } from "./sheet";

const Places = styled.ul`
  list-style: none;
  padding: 0;
  margin: 0;
  max-height: 300px;
  overflow: auto;
  font-size: 14px;
  li {
    display: flex;
    justify-content: space-between;
    gap: 10px;
    align-items: center;
    min-height: 36px;
  }
  .turns {
    ${small}
    display: flex;
    gap: 8px;
    align-items: center;
    & > :last-child {
      width: 64px;
    }
  }
`;

type Staff = Schema["StaffView"];
export type Team = Routing["teams"][number];
type Place = { person: string; weight: number };

/** A team: its name, its people, and how many turns each has. */
export function TeamForm({ team, staff, onClose }: { team: Team | null; staff: Staff; onClose: () => void }) {
  const show = useShowStaff();
  const form = useForm({
    called: "the team",
    name: `team:${team?.key ?? "new"}`,
    initial: { name: team?.name ?? "", onlyInHours: team?.onlyInHours ?? false, places: team?.members.map((m): Place => ({ person: m.id, weight: m.weight })) ?? [] },
  });
  const keep = () => form.send((body) => (team ? staffActs.putTeam(team.key, body) : staffActs.addTeam(body)).then(show), { changes: ["staff"], words: team ? "The team is changed" : "The team is made", then: onClose });
  const drop = () => team && form.send(() => staffActs.dropTeam(team.key).then(show), { changes: ["staff"], words: "The team is gone", then: onClose });
  const away = team && (
    <Block $right>
      <Button look="quiet" onPress={() => void drop()}>
        Take the team away
      </Button>
    </Block>
  );
  return (
    <Overlay title={team ? team.name : "A new team"} isOpen onClose={onClose} width={520} unsaved={form}>
      <FormBox form={form} words="Keep" onSend={keep} isReady={!!form.values.name.trim()} beside={away}>
        <TextBox label="Name" {...form.bind("name")} autoFocus />
        <Tick {...form.bind("onlyInHours")}>Pass over who is not at work just now</Tick>
        <PlaceList staff={staff} {...form.bind("places")} />
      </FormBox>
    </Overlay>
  );
}

function PlaceList({ staff, value, onChange }: { staff: Staff; value: Place[]; onChange: (places: Place[]) => void }) {
  const toggle = (person: string, on: boolean) => onChange(on ? [...value, { person, weight: 1 }] : value.filter((x) => x.person !== person));
  return (
    <Places aria-label="People of the team">
      {staff.people.map((p) => {
        const place = value.find((x) => x.person === p.id);
        return (
          <li key={p.id}>
            <Tick value={!!place} onChange={(on) => toggle(p.id, on)}>
              {p.name}
            </Tick>
            {place && (
              <span className="turns">
                turns
                <NumberBox label={`Turns of ${p.name}`} least={1} most={100} whole value={place.weight} onChange={(weight) => onChange(value.map((x) => (x.person === p.id ? { ...x, weight } : x)))} />
              </span>
            )}
          </li>
        );
      })}
    </Places>
  );
}
