import type { Schema } from "../api/client";
import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import { useSession } from "../common/session";
import { dateForms, decimalMarks } from "../common/writing";
import { WorkDays } from "../common/WorkDays";
import { Overlay } from "../parts/Dialog";
import { ChoiceBox, TextBox } from "../parts/Field";
import { Columns } from "../parts/Layout";
import { Tick, Ticks } from "../parts/Ticks";
import { TimeBox } from "../parts/TimeBox";
import { ZoneBox } from "../parts/ZoneBox";
import { peopleActs, type OneTimeLink, type PersonLine } from "./queries";

type Choices = Pick<Schema["PeopleView"], "people" | "roles" | "teams">;

const nobody = "-";

type Ways = PersonLine["ways"];

const usual: Ways = { dates: "dayFirst", numbers: "either", worksFrom: "09:00", worksTo: "17:00", worksDays: 31, signature: "" };

const waysOf = (person?: PersonLine) => {
  const ways = person?.ways ?? usual;
  return { ...ways, worksFrom: ways.worksFrom.slice(0, 5), worksTo: ways.worksTo.slice(0, 5) };
};

/** Somebody's name, address and place among us, as a form has them. */
function usePersonForm(person?: PersonLine) {
  const me = useSession();
  return useForm({
    called: person ? `the change of ${person.name}` : "the invitation",
    name: person ? `person:${person.id}:${person.version}` : "invitation",
    initial: { name: person?.name ?? "", email: person?.email ?? "", roles: [...(person?.roles ?? ["rep"])], timeZone: person?.timeZone ?? me.timeZone, manager: person?.manager ?? nobody, teams: [...(person?.teams ?? [])], send: false, ...waysOf(person) },
  });
}

type Form = ReturnType<typeof usePersonForm>;

const orderOf = ({ name, email, roles, timeZone, manager, teams }: Form["values"], known: Choices["roles"]) => ({ name, email, roles, timeZone, teams: isGivenLeads(roles, known) ? teams : [], manager: manager === nobody ? null : manager });

const waysIn = ({ dates, numbers, worksFrom, worksTo, worksDays, signature }: Form["values"]): Ways => ({ dates, numbers, worksFrom, worksTo, worksDays, signature });

const isGivenLeads = (roles: string[], known: Choices["roles"]) => known.some((r) => r.worksLeads && roles.includes(r.key));

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
  const keep = () => form.send((values) => peopleActs.change(person, { ...orderOf(values, choices.roles), ways: waysIn(values) }), { changes: ["people"], words: ({ name }) => `${name} is changed.`, then: onClose });
  return (
    <Overlay title={person.name} isOpen onClose={onClose} width={620} unsaved={form}>
      <FormBox form={form} words="Keep" onSend={keep}>
        <Fields form={form} roles={choices.roles} teams={choices.teams} people={choices.people.filter((p) => p.id !== person.id)} />
        <Ways form={form} />
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
        <ChoiceBox label="Reports to" {...form.bind("manager")} options={above} />
        <ZoneBox label="Time zone" {...form.bind("timeZone")} />
      </Columns>
      <Ticks label="Roles" options={[...roles]} {...form.bind("roles")} />
      {isGivenLeads(form.values.roles, roles) && teams.length > 0 && <Ticks label="In the teams" options={teams} {...form.bind("teams")} />}
    </>
  );
}

/** How somebody writes, and when they work. */
function Ways({ form }: { form: Form }) {
  return (
    <>
      <Columns $of="1fr 1fr" $align="start">
        <ChoiceBox label="Dates" {...form.bind("dates")} onChange={(dates) => form.set({ dates: dates as Ways["dates"] })} options={dateForms} />
        <ChoiceBox label="Numbers" {...form.bind("numbers")} onChange={(numbers) => form.set({ numbers: numbers as Ways["numbers"] })} options={decimalMarks} />
        <TimeBox label="Works from" {...form.bind("worksFrom")} />
        <TimeBox label="to" {...form.bind("worksTo")} />
      </Columns>
      <WorkDays value={form.values.worksDays} onChange={(worksDays) => form.set({ worksDays })} error={form.said("worksDays")} />
      <TextBox label="Signature under the messages they send" lines={3} {...form.bind("signature")} />
    </>
  );
}
