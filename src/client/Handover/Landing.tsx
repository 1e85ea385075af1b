import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import styled from "styled-components";
import { api, must, ApiError } from "../api/client";
import { AwaitedSheet } from "../parts/AwaitedSheet";
import { Aside, Head, Inner, Pane } from "../parts/Bench";
import { Button } from "../parts/Button";
import { useUnkept } from "../common/PickList";
import { numberOf } from "../common/numbers";
import { tell } from "../parts/Toast";
import { useRefresh } from "../common/session";
import { Along } from "./Along";
import { Carried } from "./Carried";
import { DealForm } from "./DealForm";
import { FactRows } from "./FactRows";
import { draftOf, settle, type Choices, type DealDraft, type Sheet, type Targets } from "./landing";
import { TargetBox } from "./TargetBox";
import { useTakeBack } from "./Became";
import { keys } from "../common/keys";

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

function Laid({ sheet, targets, onTargets }: { sheet: Sheet; targets: Targets; onTargets: (targets: Targets) => void }) {
  const [choices, setChoices] = useState<Choices>({ take: [], drop: [] });
  const [deal, setDeal] = useState<DealDraft>(() => draftOf(sheet, sheet.pipeline));
  const [along, setAlong] = useState<Record<string, string>>({});
  const isUnkept = useUnkept();
  const [trouble, setTrouble] = useState<ApiError>();
  const [busy, setBusy] = useState(false);
  const refresh = useRefresh();
  const navigate = useNavigate();
  const back = useTakeBack(sheet.leadId, () => void navigate(`/handover/${sheet.leadId}`));
  // One key for one sheet: a second press, or the same again after a lost answer, hands over once.
  const key = useRef(crypto.randomUUID());
  const linked = settle(sheet, targets);

  const handOver = async () => {
    setBusy(true);
    setTrouble(undefined);
    const numbers = async () => ({
      amount: await numberOf(deal.amount.trim() || "0", "amount"),
      products: await Promise.all(deal.products.map(async (p) => ({ product: p.product, quantity: await numberOf(p.quantity, "products"), price: await numberOf(p.price, "products") }))),
    });
    const body = {
      accountId: linked.account,
      newAccount: !!targets.newAccount,
      contactId: linked.contact,
      newContact: !!targets.newContact,
      makes: targets.makes ?? null,
      accountName: null,
      take: choices.take,
      drop: choices.drop,
      pipeline: deal.pipeline,
      dealName: deal.name,
      currency: deal.currency,
      expectedClose: deal.closes,
      role: deal.role,
      along: Object.entries(along).map(([leadId, role]) => ({ leadId, role, contactId: null, newContact: false })),
    };
    try {
      const became = await must(
        api.POST("/api/leads/{id}/handover", { params: { path: { id: sheet.leadId } }, headers: { "If-Match": `"${sheet.version}"`, "Idempotency-Key": key.current }, body: { ...body, ...(await numbers()) } }),
      );
      await refresh();
      const carried = became.carried ? ` ${became.carried.found} of ${became.carried.known} facts carried.` : "";
      const joined = linked.account || became.madeAccount || !became.accountName ? "" : ` It joined the account ${became.accountName}, which was made meanwhile.`;
      tell(`${sheet.leadName} is handed over as ${became.dealName}.${joined}${carried}`, () => back.now());
      void navigate(`/deals/${became.dealId}`);
    } catch (e) {
      setTrouble(e as ApiError);
      await refresh();
    } finally {
      setBusy(false);
    }
  };

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
              <Button look="main" onPress={() => void handOver()} isDisabled={busy || isUnkept}>
                {busy ? "Handing over …" : "Hand over"}
              </Button>
            )}
          </Head>
          {!ready && (
            <Aside style={{ marginBottom: 18 }}>
              {sheet.became ? (
                <>
                  This lead is handed over already; see <Link to={`/deals/${sheet.became.dealId}`}>{sheet.became.dealName}</Link>.
                </>
              ) : (
                <>This lead is not qualified yet, so this only shows what would be.</>
              )}
            </Aside>
          )}
          {sheet.exception && <Aside style={{ marginBottom: 18 }}>Qualified as an exception: {sheet.exception}.</Aside>}
          {trouble && (
            <p role="alert" style={{ color: "var(--bad)", marginBottom: 14 }}>
              {trouble.message} Nothing was handed over.
            </p>
          )}
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
            <DealForm sheet={sheet} deal={deal} onChange={setDeal} trouble={trouble} />
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
      {back.dialog}
    </>
  );
}
