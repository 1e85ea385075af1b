import { useState } from "react";
import type { Schema } from "../api/client";
import { asPlain, numberOf, plainNumber } from "../common/numbers";
import { NumberText } from "../common/NumberText";
import { Button } from "../parts/Button";
import { DayBox } from "../parts/DayBox";
import { ChoiceBox, TextBox } from "../parts/Field";
import { Columns, Stack } from "../parts/Layout";
import { tellError } from "../parts/Toast";
import { useAnyUnread } from "../parts/unread";
import type { Move } from "./moving";

type Props = { sheet: Schema["DealSheet"]; stages: Schema["StageView"][]; onMove: (change: Move) => void };

// Stands for a chance that follows the stage.
const asStage = -1;

/** Stage, expected close, amount and chance of a deal, changed without a mouse. */
export function DealMover({ sheet, stages, onMove }: Props) {
  const { deal } = sheet;
  const [closes, setCloses] = useState(deal.expectedClose);
  const [amount, setAmount] = useState(asPlain(deal.amount));
  const [chance, setChance] = useState(deal.ownProbability ? String(deal.probability) : "");
  const isUnread = useAnyUnread();
  const changeOf = (worth: number, said: number): Move => ({
    expectedClose: closes && closes !== deal.expectedClose ? closes : undefined,
    amount: amount.trim() !== "" && worth !== deal.amount && worth >= 0 ? worth : undefined,
    probability: said !== (deal.ownProbability ? deal.probability : asStage) && said <= 100 ? said : undefined,
  });
  const said = chance.trim() === "" ? asStage : plainNumber(chance);
  const changed = Object.values(changeOf(plainNumber(amount), said)).some((v) => v !== undefined) || Number.isNaN(plainNumber(amount || "0"));
  // What is not written plainly is read by the server first, and asked about where it can mean two things.
  const keep = async () => {
    try {
      onMove(changeOf(await numberOf(amount || "0"), chance.trim() === "" ? asStage : await numberOf(chance)));
    } catch (e) {
      tellError(e);
    }
  };
  return (
    <Stack $gap={2} $above={3}>
      <ChoiceBox label="Stage" value={deal.stageKey} options={stages.map((s) => ({ key: s.key, label: s.name }))} onChange={(stage) => stage !== deal.stageKey && onMove({ stage })} />
      <Columns $of="1fr 1fr" $gap={2} $align="start">
        <DayBox label="Expected close" value={closes} onChange={setCloses} />
        <NumberText label={`Amount, ${deal.currency}`} value={amount} onChange={setAmount} />
      </Columns>
      <TextBox label="Probability by hand, %" inputMode="numeric" value={chance} onChange={setChance} hint={`blank: as ${sheet.stageName} has it, ${sheet.stageProbability} %`} error={Number.isNaN(said) || said > 100 ? "a number from 0 to 100" : undefined} />
      {changed && !Number.isNaN(said) && (
        <div>
          <Button isDisabled={isUnread} onPress={() => void keep()}>
            Keep
          </Button>
        </div>
      )}
    </Stack>
  );
}
