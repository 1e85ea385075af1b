import { useState } from "react";
import styled from "styled-components";
import { ApiError, api, must, type Schema } from "../api/client";
import { useAct } from "../common/acting";
import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import { numberOf } from "../common/numbers";
import { NumberText } from "../common/NumberText";
import { useMay, useSession } from "../common/session";
import { Cap } from "../parts/Bench";
import { Button } from "../parts/Button";
import { DayBox } from "../parts/DayBox";
import { inDays } from "../parts/days";
import { TextBox } from "../parts/Field";
import { currencySign, day, money } from "../parts/format";
import { Block, Columns } from "../parts/Layout";

const Entries = styled.ul`
  list-style: none;
  padding: 0;
  margin: 0 0 14px;
  li {
    display: grid;
    grid-template-columns: minmax(0, 1fr) auto 32px;
    gap: 8px;
    align-items: center;
    min-height: 44px;
    border-bottom: 1px solid var(--hair);
    font-size: 14px;
  }
`;

type Sheet = Schema["CampaignSheet"];

const enter = (key: string, body: Schema["NewCost"]) => must(api.POST("/api/campaigns/{key}/costs", { params: { path: { key } }, body }));

/** The money a campaign took, entry by entry. */
export function Costs({ sheet }: { sheet: Sheet }) {
  const { campaign, costs } = sheet;
  const may = useMay("runIntake") && sheet.changesCosts;
  const act = useAct();
  const remove = (c: Sheet["costs"][number]) =>
    void act.run(() => must(api.DELETE("/api/campaigns/{key}/costs/{id}", { params: { path: { key: campaign.key, id: c.id } } })), {
      changes: ["campaigns"],
      words: `${c.what} is taken away.`,
      back: () => enter(campaign.key, { id: c.id, spentOn: c.spentOn, what: c.what, amount: c.amount }),
    });
  return (
    <Block as="section" aria-label="What it cost" $below={7}>
      <h2>What it cost</h2>
      {costs.length === 0 && <Cap>Nothing is entered yet.</Cap>}
      <Entries>
        {costs.map((c) => (
          <li key={c.id}>
            <span>
              {c.what}
              <Cap>
                {day(c.spentOn)}
                {c.by ? `, ${c.by}` : ""}
              </Cap>
            </span>
            <span>{money(c.amount, campaign.currency)}</span>
            {may && (
              <Button look="quiet" aria-label={`Take away ${c.what}`} onPress={() => remove(c)}>
                ×
              </Button>
            )}
          </li>
        ))}
      </Entries>
      {may && <Enter campaign={campaign.key} currency={campaign.currency} />}
    </Block>
  );
}

const wrong = (field: string, message: string) => new ApiError(message, 422, "client", field);

function Enter({ campaign, currency }: { campaign: string; currency: string }) {
  const { timeZone } = useSession();
  const form = useForm({ called: "the cost", name: `campaign:${campaign}:cost`, initial: { what: "", amount: "", spentOn: inDays(0, timeZone) } });
  // The same entry sent twice is one entry.
  const [id, setId] = useState(() => crypto.randomUUID());
  const send = () =>
    form.send(
      async ({ what, amount, spentOn }) => {
        if (!amount.trim()) throw wrong("amount", "Write an amount, for instance 1250.50.");
        if (!spentOn) throw wrong("spentOn", "Say on which day.");
        return enter(campaign, { id, what, amount: await numberOf(amount, "amount"), spentOn });
      },
      { changes: ["campaigns"], words: "Entered.", then: () => setId(crypto.randomUUID()) },
    );
  return (
    <FormBox form={form} words="Enter" look="plain" onSend={send} isReady={!!form.values.what.trim()}>
      <TextBox label="What the money was for" {...form.bind("what")} />
      <Columns $of="1fr 1fr" $align="start">
        <NumberText label={`Amount, ${currencySign(currency)}`} {...form.bind("amount")} />
        <DayBox label="On" past {...form.bind("spentOn")} />
      </Columns>
    </FormBox>
  );
}
