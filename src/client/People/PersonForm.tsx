import type { Schema } from "../api/client";
import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import { useSession } from "../common/session";
import { Overlay } from "../parts/Dialog";
import { ChoiceBox, TextBox } from "../parts/Field";
import { Columns } from "../parts/Layout";
import { Tick, Ticks } from "../parts/Ticks";
import { ZoneBox } from "../parts/ZoneBox";
import { peopleActs, type OneTimeLink, type PersonLine } from "./queries";

type Role = PersonLine["role"];
type Choices = Pick<Schema["PeopleView"], "people" | "roles" | "teams">;

const nobody = "-";

/** Somebody's name, address and place among us, as a form has them. */
function usePersonForm(person?: PersonLine) {
  const me = useSession();
  return useForm({
    called: person ? `the change of ${person.name}` : "the invitation",
    name: person ? `person:${person.id}:${person.version}` : "invitation",
    initial: { name: person?.name ?? "", email: person?.email ?? "", role: (person?.role ?? "rep") as Role, timeZone: person?.timeZone ?? me.timeZone, manager: person?.manager ?? nobody, teams: person?.teams ?? [], send: false },
  });
}

type Form = ReturnType<typeof usePersonForm>;

const orderOf = ({ name, email, role, timeZone, manager, teams }: Form["values"], roles: Choices["roles"]) => ({ name, email, role, timeZone, teams: roles.find((r) => r.key === role)?.worksLeads ? teams : [], manager: manager === nobody ? null : manager });

type InviteProps = { choices: Choices; sends: boolean; onLink: (person: PersonLine, link: OneTimeLink, sent: boolean) => void; onClose: () => void };

/** Makes somebody, and gives the address by which they come in. */
export function InviteForm({ choices, sends, onLink, onClose }: InviteProps) {
  const form = usePersonForm();
  const invite = () =>
    form.send(
      async (values) => {
        const person = await peopleActs.invite(orderOf(values, choices.roles));
        return { person, link: await peopleActs.link(person.id, values.send), sent: values.send };
      },
      {
        changes: ["people"],
        words: ({ person, sent }) => `${person.name} is invited${sent ? ", and the letter is on its way" : ""}.`,
        then: ({ person, link, sent }) => {
          onLink(person, link, sent);
          onClose();
        },
      },
    );
  return (
    <Overlay title="Invite somebody" isOpen onClose={onClose} width={520} unsaved={form}>
      <FormBox form={form} words="Invite" onSend={invite} isReady={!!form.values.name.trim() && !!form.values.email.trim()}>
        <Fields form={form} {...choices} />
        {sends && <Tick {...form.bind("send")}>Send them the address as a letter, too</Tick>}
      </FormBox>
    </Overlay>
  );
}

/** Changes somebody. */
export function ChangeForm({ person, choices, onClose }: { person: PersonLine; choices: Choices; onClose: () => void }) {
  const form = usePersonForm(person);
  const keep = () => form.send((values) => peopleActs.change(person, orderOf(values, choices.roles)), { changes: ["people"], words: ({ name }) => `${name} is changed.`, then: onClose });
  return (
    <Overlay title={person.name} isOpen onClose={onClose} width={520} unsaved={form}>
      <FormBox form={form} words="Keep" onSend={keep}>
        <Fields form={form} roles={choices.roles} teams={choices.teams} people={choices.people.filter((p) => p.id !== person.id)} />
      </FormBox>
    </Overlay>
  );
}

function Fields({ form, people, roles, teams }: Choices & { form: Form }) {
  const above = [{ key: nobody, label: "nobody" }, ...people.filter((p) => p.state !== "left" || p.id === form.values.manager).map((p) => ({ key: p.id, label: p.name }))];
  return (
    <>
      <Columns $of="1fr 1fr" $align="start">
        <TextBox label="Name" {...form.bind("name")} autoFocus />
        <TextBox label="Email address" type="email" {...form.bind("email")} />
        <ChoiceBox label="Role" {...form.bind("role")} onChange={(role) => form.set({ role: role as Role })} options={[...roles]} />
        <ChoiceBox label="Reports to" {...form.bind("manager")} options={above} />
      </Columns>
      {roles.find((r) => r.key === form.values.role)?.worksLeads && teams.length > 0 && <Ticks label="In the teams" options={teams} {...form.bind("teams")} />}
      <ZoneBox label="Time zone" {...form.bind("timeZone")} />
    </>
  );
}
