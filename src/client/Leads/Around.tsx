import { useQuery } from "@tanstack/react-query";
import { api, must } from "../api/client";
import { LeadCampaigns } from "../Campaigns/LeadCampaigns";
import { keys } from "../common/keys";
import { Strip, StripLine } from "../parts/Shell";
import { LeadFiles } from "./Activities/LeadFiles";
import { Company } from "./Company";
import { Consents } from "./Consents";
import { Qualifying } from "./Qualifying";
import type { Sheet } from "./queries";
import { Tags } from "./Tags";

/** What belongs to a lead: tags, what may be done with the person's data, campaigns, files, the company's others, and what was found out. */
export function Around({ lead, mayWrite }: { lead: Sheet; mayWrite: boolean }) {
  const around = useQuery({ queryKey: keys.around(lead.id, lead.version), queryFn: () => must(api.GET("/api/leads/{id}/around", { params: { path: { id: lead.id } } })), placeholderData: (before) => before });
  return (
    <Strip label="Tags, consent, campaigns, files">
      <StripLine name="Tags">{around.data && <Tags lead={lead} tags={around.data.tags} mayWrite={mayWrite} />}</StripLine>
      <StripLine name="Consent">{around.data && <Consents lead={lead} consents={around.data.consents} mayWrite={mayWrite} />}</StripLine>
      <StripLine name="Campaigns" half>{around.data && <LeadCampaigns lead={lead} campaigns={around.data.campaigns} />}</StripLine>
      <StripLine name="Files" half>
        <LeadFiles lead={lead} mayWrite={mayWrite} />
      </StripLine>
      <Company lead={lead} />
      {!lead.became && (
        <StripLine name="Qualification">
          <Qualifying lead={lead} mayWrite={mayWrite} />
        </StripLine>
      )}
    </Strip>
  );
}
