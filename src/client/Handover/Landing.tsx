import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import styled from "styled-components";
import { api, must } from "../api/client";
import { useAct } from "../common/acting";
import { keys } from "../common/keys";
import { AwaitedSheet } from "../parts/AwaitedSheet";
import { Head, Inner, Notice, Pane } from "../parts/Bench";
import { Button } from "../parts/Button";
import { useAnyUnread } from "../parts/unread";
import { Wrong } from "../parts/Words";
import { Along } from "./Along";
import { useTakeBack } from "./Became";
import { Carried } from "./Carried";
import { DealForm } from "./DealForm";
import { FactRows } from "./FactRows";
import { draftOf, orderOf, settle, type Choices, type DealDraft, type Sheet, type Targets } from "./landing";
import { TargetBox } from "./TargetBox";

const Part = styled.section`
  border-top: 3px solid var(--ink);
  padding-top: 10px;
  margin-bottom: 26px;
`;

/** The handover sheet of one lead. What it is laid out against follows the account and contact one chooses. */
export function Landing({ id }: { id: string }) {
  const [targets, setTargets] = useState<Targets>({});
  const sheet = useQuery({
    queryKey: keys.handoverSheet(id, targets),
    placeholderData: keepPreviousData,
    queryFn: () => must(api.GET("/api/leads/{id}/handover", { params: { path: { id }, query: targets } })),
  });
  if (sheet.isPending || sheet.isError) return <AwaitedSheet error={sheet.error} />;
  return <Laid sheet={sheet.data} targets={targets} onTargets={setTargets} />;
}

/** What a person settles on the sheet. */
function useSettling(sheet: Sheet) {
  const [choices, setChoices] = useState<Choices>({ take: [], drop: [] });
  const [deal, setDeal] = useState<DealDraft>(() => draftOf(sheet, sheet.pipeline));
  const [along, setAlong] = useState<Record<string, string>>({});
  return { choices, setChoices, deal, setDeal, along, setAlong };
}

type Settling = ReturnType<typeof useSettling>;

function Laid({ sheet, targets, onTargets }: { sheet: Sheet; targets: Targets; onTargets: (targets: Targets) => void }) {
  const settling = useSettling(sheet);
  const { choices, setChoices, deal, setDeal, along, setAlong } = settling;
  const handing = useHandOver(sheet, targets, settling);
  const isUnread = useAnyUnread();
  const linked = settle(sheet, targets);
  const ready = sheet.state === "qualified";
  const rows = (on: string, existing: boolean) => <FactRows lines={sheet.lines.filter((l) => l.on === on)} existing={existing} choices={choices} onChoose={setChoices} />;
  return (
    <>
      <Pane $sheet aria-label="Handover sheet">
        <Inner>
          <Head>
            <div>
              <h1>{sheet.leadName}</h1>
              <p>
                <Link to={`/leads/${sheet.leadId}`}>The lead</Link> becomes {sheet.makes === "none" && !linked.account ? "a contact and a deal" : "an account, a contact and a deal"}
                {sheet.ownerName && `, followed by ${sheet.ownerName}`}.
              </p>
            </div>
            {ready && (
              <Button look="main" onPress={handing.run} isPending={handing.busy} isDisabled={isUnread}>
                {handing.busy ? "Handing over" : "Hand over"}
              </Button>
            )}
          </Head>
          <Notices sheet={sheet} trouble={handing.trouble} />
          <Part aria-label="Account">
            <TargetBox kind="account" sheet={sheet} targets={targets} onTargets={onTargets} />
            {rows("account", !!linked.account)}
          </Part>
          <Part aria-label="Contact">
            <TargetBox kind="contact" sheet={sheet} targets={targets} onTargets={onTargets} />
            {rows("contact", !!linked.contact)}
          </Part>
          <Part aria-label="Deal">
            <h2>Deal</h2>
            <DealForm sheet={sheet} deal={deal} onChange={setDeal} said={handing.said} />
            {rows("deal", false)}
          </Part>
          {sheet.along.length > 0 && ready && (
            <Part aria-label="Come along">
              <Along leads={sheet.along} along={along} onChange={setAlong} />
            </Part>
          )}
        </Inner>
      </Pane>
      <Carried sheet={sheet} choices={choices} along={Object.keys(along).length} />
      {handing.dialog}
    </>
  );
}

/** Hands the lead over as the sheet stands, with the way back. */
function useHandOver(sheet: Sheet, targets: Targets, { choices, deal, along }: Settling) {
  const act = useAct("here");
  const navigate = useNavigate();
  const back = useTakeBack(sheet.leadId, () => void navigate(`/handover/${sheet.leadId}`));
  // One key for one sheet: a second press, or the same again after a lost answer, hands over once.
  const key = useRef(crypto.randomUUID());
  const run = () =>
    void act.run(
      async () => {
        const body = await orderOf(sheet, targets, choices, deal, along);
        return must(api.POST("/api/leads/{id}/handover", { params: { path: { id: sheet.leadId } }, headers: { "If-Match": `"${sheet.version}"`, "Idempotency-Key": key.current }, body }));
      },
      {
        changes: ["lead", "deal"],
        words: (became) => {
          const carried = became.carried ? ` ${became.carried.found} of ${became.carried.known} facts carried.` : "";
          const joined = settle(sheet, targets).account || became.madeAccount || !became.accountName ? "" : ` It joined the account ${became.accountName}, which was made meanwhile.`;
          return `${sheet.leadName} is handed over as ${became.dealName}.${joined}${carried}`;
        },
        back: () => back.now(),
        then: (became) => void navigate(`/deals/${became.dealId}`),
      },
    );
  return { run, busy: act.busy, said: act.said, trouble: act.any, dialog: back.dialog };
}

function Notices({ sheet, trouble }: { sheet: Sheet; trouble?: string }) {
  return (
    <>
      {sheet.state !== "qualified" && (
        <Notice>
          {sheet.became ? (
            <>
              This lead is handed over already; see <Link to={`/deals/${sheet.became.dealId}`}>{sheet.became.dealName}</Link>.
            </>
          ) : (
            <>This lead is not qualified yet, so this only shows what would be.</>
          )}
        </Notice>
      )}
      {sheet.exception && <Notice>Qualified as an exception: {sheet.exception}.</Notice>}
      {trouble && <Wrong $below={3}>{trouble} Nothing was handed over.</Wrong>}
    </>
  );
}
