import styled from "styled-components";

import { useWorks, useSession } from "../common/session";
import { Became } from "../Handover/Became";
import { day, exact } from "../parts/format";
import { Lamp } from "../parts/Lamp";
import { RecordShell } from "../parts/Shell";
import { small } from "../parts/theme";
import { Around } from "./Around";
import { Composer } from "./Composer";
import { LeadGlance } from "./LeadGlance";
import type { Sheet } from "./queries";
import { Story } from "./Story";

const Small = styled.small`
  ${small}
  font-size: 12px;
  display: block;
`;

const Score = styled.div<{ $go: boolean }>`
  display: flex;
  gap: 10px;
  align-items: center;
  white-space: nowrap;
  b {
    ${(p) => p.$go && "color: var(--lamp-ink);"}
  }
`;

type Props = { lead: Sheet; onBack: () => void };

/** A lead: where it stands, what belongs to it, where one writes, and its story. Once handed over it only shows. */
export function LeadPane({ lead, onBack }: Props) {
  const mayWrite = useWorks("workLeads")(lead.ownerId) && !lead.became;
  return (
    <RecordShell name={lead.name} line={<Came lead={lead} />} measure={<Scores lead={lead} />} reach={<Reached lead={lead} />} onBack={onBack}>
      {lead.became && <Became id={lead.id} became={lead.became} />}
      <LeadGlance lead={lead} mayWrite={mayWrite} />
      <Around lead={lead} mayWrite={mayWrite} />
      {mayWrite && <Composer key={lead.id} lead={lead} />}
      <Story lead={lead} mayWrite={mayWrite} />
    </RecordShell>
  );
}

function Came({ lead }: { lead: Sheet }) {
  const { timeZone } = useSession();
  return (
    <>
      {lead.headline && lead.headline !== lead.name ? lead.headline : lead.sourceName}
      <Small>
        Lead {lead.number}, came in <time title={exact(lead.createdAt, timeZone)}>{day(lead.createdAt)}</time> through {lead.sourceName}
        {lead.campaignName && lead.campaignName !== lead.sourceName && `, ${lead.campaignName}`}
      </Small>
    </>
  );
}

function Scores({ lead: { score } }: { lead: Sheet }) {
  
  return (
    <Score $go={score.nextMove === "hand_over"}>
      <Lamp fit={score.fit} fitHigh={score.fitHigh} engagement={score.engagement} size={44} />
      <div>
        <b>{score.moveName}</b>
        <Small>
          fit {score.fit} · engagement {score.engagement}
        </Small>
      </div>
    </Score>
  );
}

/** How the person is reached, one press each. */
function Reached({ lead }: { lead: Sheet }) {
  const of = (key: string) => lead.facts.find((f) => f.key === key)?.value;
  const [phone, email] = [of("phone"), of("email")];
  if (!phone && !email) return null;
  return (
    <>
      {phone && <a href={`tel:${phone.replace(/[^+\d]/g, "")}`}>{phone}</a>}
      {email && <a href={`mailto:${email}`}>{email}</a>}
    </>
  );
}
