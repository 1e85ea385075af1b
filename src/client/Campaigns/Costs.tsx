import { useState } from "react";
import { Form } from "react-aria-components";
import styled from "styled-components";
import { api, must, type Schema, type ApiError } from "../api/client";
import { Cap } from "../parts/Bench";
import { Button } from "../parts/Button";
import { TextBox } from "../parts/Field";
import { DayBox } from "../parts/DayBox";
import { inDays } from "../parts/days";
import { day, money } from "../parts/format";
import { numberOf } from "../common/numbers";
import { NumberText } from "../common/NumberText";
import { tell, tellError } from "../parts/Toast";
import { useMay, useRefresh, useSession } from "../common/session";

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

const Row = styled(Form)`
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px;
  > :first-child {
    grid-column: 1 / -1;
  }
`;

/** The money a campaign took, entry by entry. */
export function Costs({ sheet }: { sheet: Schema["CampaignSheet"] }) {
  const { campaign, costs } = sheet;
  const may = useMay("runIntake");
  const refresh = useRefresh();
  const path = { key: campaign.key };
  const enter = (body: Schema["NewCost"]) => must(api.POST("/api/campaigns/{key}/costs", { params: { path }, body })).then(refresh);
  const remove = (id: string) => must(api.DELETE("/api/campaigns/{key}/costs/{id}", { params: { path: { ...path, id } } })).then(refresh);
  return (
    <section aria-label="What it cost" style={{ marginBottom: 30 }}>
      <h2>What it cost</h2>
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
              <Button
                look="quiet"
                aria-label={`Take away ${c.what}`}
                onPress={() => void remove(c.id).then(() => tell(`${c.what} is taken away.`, () => enter({ id: c.id, spentOn: c.spentOn, what: c.what, amount: c.amount })), tellError)}
              >
                ×
              </Button>
            )}
          </li>
        ))}
        {!costs.length && <Cap>Nothing is entered yet.</Cap>}
      </Entries>
      {may && <Enter onEnter={enter} />}
    </section>
  );
}

function Enter({ onEnter }: { onEnter: (body: Schema["NewCost"]) => Promise<unknown> }) {
  const { timeZone } = useSession();
  const [what, setWhat] = useState("");
  const [amount, setAmount] = useState("");
  const [on, setOn] = useState(inDays(0, timeZone));
  const [id, setId] = useState(() => crypto.randomUUID());
  const [trouble, setTrouble] = useState<{ field?: string; message: string }>();
  const enter = async () => {
    if (!amount.trim()) return setTrouble({ field: "amount", message: "Write an amount, for instance 1250.50." });
    if (!on) return setTrouble({ field: "spentOn", message: "Say on which day." });
    try {
      await onEnter({ id, what, amount: await numberOf(amount, "amount"), spentOn: on });
      setWhat("");
      setAmount("");
      setTrouble(undefined);
      setId(crypto.randomUUID());
    } catch (e) {
      setTrouble(e as ApiError);
    }
  };
  const at = (field: string) => (trouble?.field === field ? trouble.message : undefined);
  return (
    <Row
      onSubmit={(e) => {
        e.preventDefault();
        void enter();
      }}
    >
      <TextBox label="What the money was for" value={what} onChange={setWhat} error={at("what") ?? (trouble && !trouble.field ? trouble.message : undefined)} />
      <NumberText label="Amount, €" value={amount} onChange={setAmount} error={at("amount")} />
      <DayBox label="On" value={on} onChange={setOn} error={at("spentOn")} />
      <div>
        <Button type="submit" isDisabled={!what.trim()}>
          Enter
        </Button>
      </div>
    </Row>
  );
}
