import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import { Overlay } from "../parts/Dialog";
import { ChoiceBox, TextBox } from "../parts/Field";
import { Block, Columns, Stack } from "../parts/Layout";
import { Tick, Ticks } from "../parts/Ticks";
import { Hint, Title } from "../parts/Words";
import type { Reach } from "./reach";
import { SightGrid } from "./SightGrid";
import { roleActs, type RoleLine, type RoleOrder, type Roles } from "./queries";

type Act = RoleOrder["may"][number];
type Props = { roles: Roles; role: RoleLine; isCopy: boolean; onClose: () => void };

const asForm = ({ name, may, sees, contactData, ...rest }: RoleOrder, isCopy: boolean) => ({
  ...rest,
  name: isCopy ? "" : name,
  may: [...may] as string[],
  lead: [...sees.lead] as string[],
  account: [...sees.account] as string[],
  contact: [...sees.contact] as string[],
  deal: [...sees.deal] as string[],
  contactData: [...contactData] as string[],
});

type Values = ReturnType<typeof asForm>;

const orderOf = ({ lead, account, contact, deal, may, contactData, ...rest }: Values): RoleOrder => ({
  ...rest,
  may: may as Act[],
  sees: { lead: lead as Reach[], account: account as Reach[], contact: contact as Reach[], deal: deal as Reach[] },
  contactData: contactData as Reach[],
});

function useRoleForm({ role, isCopy }: Pick<Props, "role" | "isCopy">) {
  return useForm<Values>({ called: isCopy ? `the copy of ${role.role.name}` : `the change of ${role.role.name}`, name: isCopy ? `role-copy:${role.key}` : `role:${role.key}:${role.version}`, initial: asForm(role.role, isCopy) });
}

type Form = ReturnType<typeof useRoleForm>;

/** Changes what a role sees and does, or makes one of one's own from it. */
export function RoleForm({ roles, role, isCopy, onClose }: Props) {
  const form = useRoleForm({ role, isCopy });
  const keep = () =>
    form.send((values) => (isCopy ? roleActs.make(orderOf(values)) : roleActs.change(role, orderOf(values))), {
      changes: ["people", "session"],
      words: isCopy ? `${form.values.name.trim()} can be given to people now.` : `${form.values.name.trim()} is changed. It holds from the next request on.`,
      then: onClose,
    });
  return (
    <Overlay title={isCopy ? `A role like ${role.role.name}` : role.role.name} isOpen onClose={onClose} width={760} unsaved={form}>
      <FormBox form={form} words={isCopy ? "Make the role" : "Keep"} onSend={keep} isReady={!!form.values.name.trim()}>
        <Block $width={340}>
          <TextBox label="Name" {...form.bind("name")} autoFocus />
        </Block>
        <Seeing form={form} roles={roles} />
        <Doing form={form} acts={roles.acts} />
      </FormBox>
    </Overlay>
  );
}

const kinds = [
  { key: "lead", label: "Leads" },
  { key: "account", label: "Accounts" },
  { key: "contact", label: "Contacts" },
  { key: "deal", label: "Deals" },
  { key: "contactData", label: "Contact data" },
] as const;

function Seeing({ form, roles }: { form: Form; roles: Roles }) {
  const { personalData, contactData, costData } = form.values;
  return (
    <Stack $gap={2}>
      <Title>Sees</Title>
      <SightGrid rows={kinds} value={form.values} onChange={(key, parts) => form.set({ [key]: parts } as Partial<Values>)} error={form.said("sees") ?? form.said("contactData")} />
      <Tick {...form.bind("changesContactData")} isDisabled={contactData.length === 0}>
        may change contact data that is shown: {roles.contactFields.join(", ")}
      </Tick>
      <Tick {...form.bind("personalData")}>sees what else is about a person: {roles.personalFields.join(", ")}</Tick>
      <Tick {...form.bind("changesPersonalData")} isDisabled={!personalData}>
        may change that
      </Tick>
      <Tick {...form.bind("costData")}>sees costs and margins: {roles.costFields.join(", ")}</Tick>
      <Tick {...form.bind("changesCostData")} isDisabled={!costData}>
        may change them
      </Tick>
      <Hint>What is not seen stands in no list, search, condition, report or file either.</Hint>
    </Stack>
  );
}

const worksOf = [
  { key: "own", label: "only records of their own" },
  { key: "seen", label: "all that they see" },
];

function Doing({ form, acts }: { form: Form; acts: Roles["acts"] }) {
  const groups = [...new Set(acts.map((a) => a.group))];
  return (
    <Stack $gap={2}>
      <Title>Does</Title>
      <Columns $of="minmax(0, 240px) minmax(0, 1fr)" $align="end">
        <ChoiceBox label="Works" value={form.values.ownOnly ? "own" : "seen"} options={worksOf} onChange={(k) => form.set({ ownOnly: k === "own" })} />
        <div>
          <Tick {...form.bind("givenLeads")}>is given leads, and has places in teams</Tick>
          <br />
          <Tick {...form.bind("toldOfMissed")}>is told when the time to answer a lead ran out</Tick>
        </div>
      </Columns>
      {groups.map((g, i) => (
        <Ticks
          key={g}
          label={g}
          options={acts.filter((a) => a.group === g).map((a) => ({ key: a.act, label: a.words }))}
          value={form.values.may}
          onChange={(may) => form.set({ may })}
          error={i === 0 ? form.said("may") : undefined}
        />
      ))}
    </Stack>
  );
}
