import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import { useSession } from "../common/session";
import { currencies } from "../parts/currencies";
import { ChoiceBox, TextBox } from "../parts/Field";
import { Columns, Stack } from "../parts/Layout";
import { ListedBox } from "../parts/ListedBox";
import { Subtitle } from "../parts/Words";
import { ZoneBox } from "../parts/ZoneBox";
import { ColourBox } from "./ColourBox";
import { companyActs, type Company } from "./queries";

const dates = [
  { key: "dayFirst", label: "24 Dec 2026, 24/12" },
  { key: "monthFirst", label: "Dec 24, 2026, 12/24" },
  { key: "yearFirst", label: "2026-12-24" },
];

const month = new Intl.DateTimeFormat("en", { month: "long", timeZone: "UTC" });
const months = Array.from({ length: 12 }, (_, i) => ({ key: String(i + 1), label: month.format(Date.UTC(2026, i, 1)) }));

function useCompanyForm(company: Company) {
  const me = useSession();
  const isNew = company.version === 0;
  const { name, street, postalCode, city, country, currency, timeZone, taxNumber, colour, fiscalMonth } = company;
  return useForm({
    called: "the company",
    name: `company:${company.version}`,
    initial: {
      ...{ name, street, postalCode, city, currency, taxNumber, colour },
      country: country ?? "",
      timeZone: isNew ? me.timeZone : timeZone,
      dates: isNew ? me.dates : company.dates,
      fiscalMonth: String(fiscalMonth),
    },
  });
}

type Form = ReturnType<typeof useCompanyForm>;

/** The company: its name and address, and what is taken for granted in it. */
export function CompanyForm({ company, words = "Keep", onDone }: { company: Company; words?: string; onDone?: () => void }) {
  const form = useCompanyForm(company);
  const keep = () =>
    form.send(({ country, fiscalMonth, ...rest }) => companyActs.keep(company.version, { ...rest, country: country || null, fiscalMonth: Number(fiscalMonth) }), {
      changes: ["company", "session", "setup"],
      words: (kept) => `${kept.name} is kept.`,
      then: onDone,
    });
  return (
    <FormBox form={form} words={words} onSend={keep} isReady={!!form.values.name.trim()} label="Company">
      <Address form={form} countries={company.countries} />
      <Granted form={form} />
    </FormBox>
  );
}

function Address({ form, countries }: { form: Form; countries: Company["countries"] }) {
  return (
    <Stack>
      <TextBox label="Name of the company" autoComplete="organization" {...form.bind("name")} />
      <TextBox label="Street" lines={2} autoComplete="street-address" {...form.bind("street")} />
      <Columns $of="1fr 2fr" $align="start">
        <TextBox label="Postal code" autoComplete="postal-code" {...form.bind("postalCode")} />
        <TextBox label="City" autoComplete="address-level2" {...form.bind("city")} />
      </Columns>
      <Columns $of="1fr 1fr" $align="start">
        <ListedBox label="Country" options={countries} {...form.bind("country")} hint="your scoring may count it" />
        <TextBox label="Tax number" {...form.bind("taxNumber")} />
      </Columns>
    </Stack>
  );
}

function Granted({ form }: { form: Form }) {
  const { fiscalMonth, ...rest } = { fiscalMonth: form.bind("fiscalMonth"), dates: form.bind("dates") };
  return (
    <Stack>
      <Subtitle $above={3}>What is taken for granted</Subtitle>
      <Columns $of="1fr 1fr" $align="start">
        <ListedBox label="Currency" options={currencies} {...form.bind("currency")} hint="of amounts that name none" />
        <ZoneBox label="Time zone" {...form.bind("timeZone")} />
        <ChoiceBox label="Dates are written" {...rest.dates} onChange={(key) => form.set({ dates: key as Company["dates"] })} options={dates} />
        <ChoiceBox label="The fiscal year begins in" {...fiscalMonth} options={months} />
        <ColourBox {...form.bind("colour")} />
      </Columns>
    </Stack>
  );
}
