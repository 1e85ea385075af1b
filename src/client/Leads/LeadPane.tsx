import { useEffect, useState } from "react";
import styled from "styled-components";
import { Inner, Pane } from "../parts/Bench";
import { ClockBar } from "../parts/ClockBar";
import { ChoiceBox } from "../parts/Field";
import { day, exact } from "../parts/format";
import { Lamp } from "../parts/Lamp";
import { tell } from "../parts/Toast";
import { small } from "../parts/theme";
import { useMay, useSession } from "../Setup/session";
import { Around } from "./Around";
import { Became } from "../Handover/Became";
import { Company } from "./Company";
import { Composer } from "./Composer";
import { Facts } from "./Facts";
import { GiveBack } from "./GiveBack";
import { Qualifying } from "./Qualifying";
import { leadActs, useLeadAct, usePeople, type Sheet, type StateChange } from "./queries";
import { StateAsk, StateWords } from "./StateAsk";
import { Story } from "./Story";
import { moves, states } from "./words";

const Top = styled.header`
  display: flex;
  justify-content: space-between;
  gap: 16px;
  p {
    color: var(--soft);
  }
  .score {
    display: flex;
    gap: 10px;
    align-items: center;
    text-align: left;
    white-space: nowrap;
  }
  small {
    ${small}
    font-size: 12px;
    display: block;
  }
`;

const Standing = styled.div`
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr)) auto;
  gap: 12px 16px;
  align-items: end;
  margin: 16px 0 18px;
  padding: 12px 0 14px;
  border-block: 1px solid var(--hair);
`;

type Props = { lead: Sheet; onBack: () => void; ask: number };

/** A lead: standing, facts, qualification, composer and story. Once handed over it only shows. */
export function LeadPane({ lead, onBack, ask }: Props) {
  const session = useSession();
  const works = useMay("workLeads");
  const ownOnly = session.role === "rep" || session.role === "qualifier";
  const mayWrite = works && lead.state !== "handed_over" && (!ownOnly || lead.ownerId === session.id);
  useEffect(() => {
    const back = (e: KeyboardEvent) => e.key === "Escape" && !(e.target as HTMLElement).closest("input, textarea, [role=dialog], [role=listbox]") && onBack();
    window.addEventListener("keydown", back);
    return () => window.removeEventListener("keydown", back);
  });
  const go = lead.score.nextMove === "hand_over";
  return (
    <Pane $sheet as="article" aria-label={lead.name}>
      <Inner>
        <Top>
          <div>
            <h1>{lead.name}</h1>
            <p>
              {lead.headline && lead.headline !== lead.name ? lead.headline : lead.sourceName}
              <small>
                Lead {lead.number}, came in <time title={exact(lead.createdAt, session.timeZone)}>{day(lead.createdAt)}</time> through {lead.sourceName}
                {lead.campaignName && lead.campaignName !== lead.sourceName && `, ${lead.campaignName}`}
              </small>
            </p>
          </div>
          <div className="score">
            <Lamp fit={lead.score.fit} fitHigh={lead.score.fitHigh} engagement={lead.score.engagement} size={44} />
            <div>
              <b style={go ? { color: "var(--lamp-ink)" } : undefined}>{moves[lead.score.nextMove]}</b>
              <small>
                fit {lead.score.fit} · engagement {lead.score.engagement}
              </small>
            </div>
          </div>
        </Top>
        {lead.became && <Became id={lead.id} became={lead.became} />}
        <StandingRow lead={lead} mayWrite={mayWrite} />
        <Facts lead={lead} mayWrite={mayWrite} ask={ask} />
        <Around lead={lead} mayWrite={mayWrite} />
        <Company lead={lead} />
        {lead.state !== "handed_over" && <Qualifying lead={lead} mayWrite={mayWrite} />}
        {mayWrite && <Composer lead={lead} />}
        <Story lead={lead} mayWrite={mayWrite} />
      </Inner>
    </Pane>
  );
}

function StandingRow({ lead, mayWrite }: { lead: Sheet; mayWrite: boolean }) {
  const act = useLeadAct(lead.id);
  const people = usePeople();
  const mayGive = useMay("giveLeads") && lead.state !== "handed_over";
  const movable = Object.entries(states).filter(([key]) => key !== "handed_over" || lead.state === key);
  const give = (owner: string) => {
    const before = lead.ownerId;
    act.mutate(() => leadActs.give(lead, owner === "none" ? null : owner), {
      onSuccess: (now) => tell(now.ownerName ? `Given to ${now.ownerName}.` : "Put back to wait for an owner.", () => act.mutateAsync(() => leadActs.give(now, before ?? null))),
    });
  };
  // On hold asks until when, disqualified asks why; the rest is done at once.
  const [asking, setAsking] = useState<string>();
  const move = (to: StateChange) => {
    setAsking(undefined);
    act.mutate(() => leadActs.move(lead, to), {
      onSuccess: (now) => tell(`State is now ${states[now.state]?.toLowerCase()}.`, () => act.mutateAsync(() => leadActs.undoMove(now), { onSuccess: (back) => tell(`State is ${states[back.state]?.toLowerCase()} again${back.clock ? ", and its clock runs as before" : ""}.`) })),
    });
  };
  const choose = (state: string) => (state === "on_hold" || state === "disqualified" ? setAsking(state) : state === lead.state ? setAsking(undefined) : move({ state }));
  return (
    <Standing>
      <ChoiceBox label="State" value={asking ?? lead.state} options={movable.map(([key, label]) => ({ key, label }))} isDisabled={!mayWrite || act.isPending} onChange={choose} />
      <ChoiceBox
        label="Owner"
        value={lead.ownerId ?? "none"}
        options={[{ key: "none", label: "nobody yet" }, ...(people.data ?? []).map((p) => ({ key: p.id, label: p.away ? `${p.name}, away` : p.name }))]}
        isDisabled={!mayGive || act.isPending}
        onChange={give}
      />
      <div style={{ paddingBottom: 4 }}>{lead.clock ? <ClockBar clock={lead.clock} /> : <small style={{ color: "var(--soft)" }}>{lead.state !== "new" ? "the clock is stopped" : lead.ownerId ? "no clock runs" : "no clock without owner"}</small>}</div>
      <GiveBack lead={lead} mayWrite={mayWrite} />
      {asking ? <StateAsk state={asking} onGive={move} onLeave={() => setAsking(undefined)} /> : <StateWords lead={lead} onChange={mayWrite ? setAsking : undefined} />}
    </Standing>
  );
}
