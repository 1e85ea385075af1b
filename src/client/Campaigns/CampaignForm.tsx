import styled from "styled-components";
import { ApiError, api, must, type Schema } from "../api/client";
import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import { numberOf } from "../common/numbers";
import { NumberText } from "../common/NumberText";
import { useSession } from "../common/session";
import { DayBox } from "../parts/DayBox";
import { inDays } from "../parts/days";
import { ChoiceBox, TextBox } from "../parts/Field";
import { currencySign } from "../parts/format";

const Pairs = styled.div`
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 12px 16px;
  align-items: start;
  > :first-child,
  > :last-child {
    grid-column: 1 / -1;
  }
  @media (max-width: 600px) {
    grid-template-columns: minmax(0, 1fr);
  }
`;

const nobody = "–";
const number = async (text: string, field: string) => (text.trim() ? await numberOf(text, field) : null);
const wrong = (field: string, message: string) => new ApiError(message, 422, "client", field);

type Sheet = Schema["CampaignSheet"];
type Props = { view: Schema["CampaignsView"]; sheet?: Sheet; onDone: (key: string) => void };

const asForm = (sheet: Sheet | undefined, today: string) => ({
  name: sheet?.campaign.name ?? "",
  kind: sheet?.campaign.kind ?? "",
  starts: sheet?.campaign.starts ?? today,
  ends: sheet?.campaign.ends ?? today,
  budget: sheet?.campaign.budget?.toString() ?? "",
  target: sheet?.campaign.target?.toString() ?? "",
  owner: sheet?.ownerId ?? nobody,
  about: sheet?.about ?? "",
});

export const useCampaignForm = (sheet?: Sheet) => {
  const { timeZone } = useSession();
  return useForm({ called: "the campaign", name: `campaign:${sheet?.campaign.key ?? "new"}`, initial: asForm(sheet, inDays(0, timeZone)) });
};

async function bodyOf(values: ReturnType<typeof asForm>, sheet?: Sheet) {
  if (!values.starts) throw wrong("starts", "Say on which day.");
  if (!values.ends) throw wrong("ends", "Say on which day.");
  const [budget, target] = [await number(values.budget, "budget"), await number(values.target, "target")];
  if (target !== null && !Number.isInteger(target)) throw wrong("target", "Write a whole number of people.");
  return { ...values, budget, target, owner: values.owner === nobody ? null : values.owner, retired: sheet?.retired ?? false };
}

async function keep(values: ReturnType<typeof asForm>, sheet?: Sheet) {
  const body = await bodyOf(values, sheet);
  if (!sheet) return must(api.POST("/api/campaigns", { body }));
  const { key } = sheet.campaign;
  await must(api.PUT("/api/campaigns/{key}", { params: { path: { key } }, body, headers: { "If-Match": `"${sheet.version}"` } }));
  return key;
}

/** Begins a campaign, or changes one. */
export function CampaignForm({ view, sheet, onDone, form }: Props & { form: ReturnType<typeof useCampaignForm> }) {
  const own = useSession().currency;
  const currency = sheet?.campaign.currency ?? own;
  const send = () => form.send((values) => keep(values, sheet), { changes: ["campaigns"], words: sheet ? "Changed." : `${form.values.name} is begun.`, then: onDone });
  return (
    <FormBox form={form} words={sheet ? "Keep" : "Begin"} onSend={send} isReady={!!form.values.name.trim()}>
      <Pairs>
        <TextBox label="Name" autoFocus {...form.bind("name")} />
        <ChoiceBox label="Kind" {...form.bind("kind")} value={form.values.kind || null} options={view.kinds} />
        <ChoiceBox label="Who answers for it" {...form.bind("owner")} options={[{ key: nobody, label: "nobody yet" }, ...view.owners]} />
        <DayBox label="Begins" {...form.bind("starts")} />
        <DayBox label="Ends" {...form.bind("ends")} />
        {view.changesCosts && <NumberText label={`Budget, ${currencySign(currency)}`} {...form.bind("budget")} />}
        <NumberText label="New people wanted" {...form.bind("target")} />
        <TextBox label="What it is about" lines {...form.bind("about")} />
      </Pairs>
    </FormBox>
  );
}
