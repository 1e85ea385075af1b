import { useState } from "react";
import { Link, useNavigate } from "react-router";
import styled from "styled-components";
import { api, must, TroubleError, type Schema } from "../api/client";
import { Aside, Head, Inner, Pane } from "../parts/Bench";
import { Button } from "../parts/Button";
import { ChoiceBox, TextBox } from "../parts/Field";
import { readNumber } from "../parts/format";
import { tell, tellTrouble } from "../parts/Toast";
import { small } from "../parts/theme";
import { WhyPane } from "../parts/WhyPane";
import { useRefresh } from "../Setup/session";

type Sheet = Schema["HandoverPreview"];

const Columns = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(230px, 1fr));
  gap: 24px 32px;
  align-items: start;
`;

const Card = styled.section`
  border-top: 3px solid var(--ink);
  padding-top: 10px;
  dl {
    margin: 8px 0 0;
  }
  dl > div {
    display: grid;
    grid-template-columns: 78px minmax(0, 1fr);
    gap: 10px;
    padding: 6px 0;
    border-bottom: 1px solid var(--hair);
    font-size: 14px;
  }
  dt {
    ${small}
  }
  dd {
    margin: 0;
    overflow-wrap: anywhere;
  }
`;

const Differ = styled.div`
  margin-top: 4px;
  font-size: 13px;
  label {
    display: flex;
    gap: 6px;
    align-items: baseline;
    cursor: pointer;
  }
`;

const DealFields = styled.div`
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 10px 16px;
  margin: 6px 0 4px;
  .wide {
    grid-column: 1 / -1;
  }
`;

const fresh = "new";

/** Where each known fact of the lead lands, what is already there, and the act. */
export function Landing({ sheet }: { sheet: Sheet }) {
  const [account, setAccount] = useState(sheet.accounts.find((a) => a.same)?.id ?? fresh);
  const [contact, setContact] = useState(sheet.contacts.find((c) => c.same)?.id ?? fresh);
  const [take, setTake] = useState<string[]>([]);
  const [deal, setDeal] = useState({ name: sheet.dealName, amount: "", pipeline: sheet.pipelines[0]?.key ?? "", closes: sheet.expectedClose });
  const [trouble, setTrouble] = useState<TroubleError>();
  const [busy, setBusy] = useState(false);
  const refresh = useRefresh();
  const navigate = useNavigate();

  const handOver = async () => {
    const amount = readNumber(deal.amount);
    if (Number.isNaN(amount)) return setTrouble(new TroubleError(`“${deal.amount}” is not a number.`, 422, "amount-unfit", "amount"));
    setBusy(true);
    setTrouble(undefined);
    const order = {
      accountId: account === fresh ? null : account,
      newAccount: account === fresh && sheet.accounts.length > 0,
      contactId: contact === fresh ? null : contact,
      take,
      pipeline: deal.pipeline,
      dealName: deal.name,
      amount,
      currency: "EUR",
      expectedClose: deal.closes,
    };
    try {
      const became = await must(api.POST("/api/leads/{id}/handover", { params: { path: { id: sheet.leadId } }, headers: { "If-Match": `"${sheet.version}"` }, body: order }));
      await refresh();
      tell(`${sheet.leadName} is handed over as ${became.dealName}.`, () => void takeBack());
      void navigate(`/deals/${became.dealId}`);
    } catch (e) {
      setTrouble(e as TroubleError);
      await refresh();
    } finally {
      setBusy(false);
    }
  };
  const takeBack = async () => {
    await must(api.POST("/api/leads/{id}/handover/take-back", { params: { path: { id: sheet.leadId } } })).catch(tellTrouble);
    await refresh();
    void navigate(`/handover/${sheet.leadId}`);
  };

  const ready = sheet.state === "qualified";
  const on = (landing: string) => sheet.lines.filter((l) => l.on === landing);
  const lines = (landing: Schema["Landing"], linked: boolean) => <Lines lines={on(landing)} linked={linked} take={take} onTake={setTake} />;
  return (
    <>
      <Pane $sheet aria-label="Handover sheet">
        <Inner>
          <Head>
            <div>
              <h1>{sheet.leadName}</h1>
              <p>
                <Link to={`/leads/${sheet.leadId}`}>The lead</Link> becomes {sheet.makesAccount ? "an account, a contact and a deal" : "a contact and a deal"}.
              </p>
            </div>
            {ready && (
              <Button look="main" onPress={() => void handOver()} isDisabled={busy}>
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
          {trouble && (
            <p role="alert" style={{ color: "var(--bad)", marginBottom: 14 }}>
              {trouble.message} Nothing was handed over.
            </p>
          )}
          <Columns>
            {sheet.makesAccount && (
              <Card aria-label="Account">
                <h2>Account</h2>
                <Found kind="account" found={sheet.accounts} value={account} onChange={setAccount} />
                {lines("account", account !== fresh)}
              </Card>
            )}
            <Card aria-label="Contact">
              <h2>Contact</h2>
              <Found kind="contact" found={sheet.contacts} value={contact} onChange={setContact} />
              {lines("contact", contact !== fresh)}
            </Card>
            <Card aria-label="Deal" style={{ gridColumn: "1 / -1" }}>
              <h2>Deal</h2>
              <DealFields>
                <div className="wide">
                <TextBox label="Name" value={deal.name} onChange={(name) => setDeal({ ...deal, name })} error={trouble?.field === "dealName" ? trouble.message : undefined} />
                </div>
                <TextBox label="Amount, EUR" value={deal.amount} onChange={(amount) => setDeal({ ...deal, amount })} inputMode="decimal" error={trouble?.field === "amount" ? trouble.message : undefined} />
                <TextBox label="Expected close" type="date" value={deal.closes} onChange={(closes) => setDeal({ ...deal, closes })} />
                <ChoiceBox label="Pipeline" value={deal.pipeline} options={sheet.pipelines.map((p) => ({ key: p.key, label: p.name }))} onChange={(pipeline) => setDeal({ ...deal, pipeline })} />
              </DealFields>
              {lines("deal", false)}
            </Card>
          </Columns>
        </Inner>
      </Pane>
      <Carried sheet={sheet} />
    </>
  );
}

type FoundProps = { kind: string; found: Schema["FoundRecord"][]; value: string; onChange: (id: string) => void };

function Found({ kind, found, value, onChange }: FoundProps) {
  if (!found.length) return <p style={{ fontSize: 14, color: "var(--soft)" }}>None is there yet; a new one is made.</p>;
  const chosen = found.find((f) => f.id === value);
  return (
    <div style={{ marginTop: 6 }}>
      <ChoiceBox label={`Link to a known ${kind}`} value={value} options={[...found.map((f) => ({ key: f.id, label: f.name })), { key: fresh, label: `another one: make a new ${kind}` }]} onChange={onChange} />
      <p style={{ fontSize: 13, color: "var(--soft)", marginTop: 4 }}>{chosen ? `${chosen.evidence.join("; ")}. ${chosen.bits.toFixed(1)} bits of evidence.` : `A new ${kind} beside the known one.`}</p>
    </div>
  );
}

function Lines({ lines, linked, take, onTake }: { lines: Sheet["lines"]; linked: boolean; take: string[]; onTake: (take: string[]) => void }) {
  const toggle = (field: string) => onTake(take.includes(field) ? take.filter((t) => t !== field) : [...take, field]);
  return (
    <dl>
      {lines.map((l) => (
        <div key={l.field}>
          <dt>{l.label}</dt>
          <dd>
            {l.value}
            {linked && l.differs && (
              <Differ>
                <span style={{ color: "var(--lamp-ink)" }}>there it says {l.existing}</span>
                <label>
                  <input type="checkbox" checked={take.includes(l.field)} onChange={() => toggle(l.field)} /> take the lead's
                </label>
              </Differ>
            )}
          </dd>
        </div>
      ))}
    </dl>
  );
}

function Carried({ sheet }: { sheet: Sheet }) {
  const { goesAlong, lines } = sheet;
  const settled = lines.filter((l) => !l.differs).length;
  return (
    <WhyPane title={`${lines.length} of ${lines.length} facts carried`}>
      <p style={{ fontSize: 14 }}>Every known fact has its place. {lines.length === settled ? "None contradicts what is there." : `${lines.length - settled} ${lines.length - settled === 1 ? "differs" : "differ"} from what is there; ours stays unless you take the lead's.`}</p>
      <h3 style={{ margin: "16px 0 4px" }}>Goes along</h3>
      <ul style={{ paddingLeft: 18, fontSize: 14 }}>
        <li>{goesAlong.story} lines of the story, with all notes and calls</li>
        <li>{goesAlong.tasks} open {goesAlong.tasks === 1 ? "task" : "tasks"}</li>
        <li>{goesAlong.events} {goesAlong.events === 1 ? "event" : "events"} that engagement counts</li>
        <li>source and campaign, onto the deal</li>
      </ul>
      <p style={{ fontSize: 13, color: "var(--soft)", marginTop: 14 }}>Afterwards the lead is read-only and points to what it became. A wrong handover can be taken back until somebody works on the deal.</p>
    </WhyPane>
  );
}
