import type { Schema } from "../api/client";
import { Overlay } from "../parts/Dialog";
import { CampaignForm, useCampaignForm } from "./CampaignForm";

type Props = { view: Schema["CampaignsView"]; sheet?: Schema["CampaignSheet"]; onDone: (key: string) => void; onLeave: () => void };

/** A campaign begun or changed, over the page. */
export function CampaignDialog({ view, sheet, onDone, onLeave }: Props) {
  const form = useCampaignForm(sheet);
  return (
    <Overlay title={sheet ? `Change ${sheet.campaign.name}` : "New campaign"} isOpen onClose={onLeave} width={560} unsaved={form}>
      <CampaignForm form={form} view={view} sheet={sheet} onDone={onDone} />
    </Overlay>
  );
}
