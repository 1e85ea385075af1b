import { useState } from "react";
import { Link, useNavigate } from "react-router";
import type { Schema } from "../api/client";
import { useMay } from "../common/session";
import { Cap } from "../parts/Bench";
import { Button } from "../parts/Button";
import { DataTable, FadedRow } from "../parts/DataTable";
import { day, money, whole } from "../parts/format";
import { Block, Row } from "../parts/Layout";
import { Skeleton } from "../parts/States";
import { CampaignDialog } from "./CampaignDialog";
import { useCampaigns } from "./queries";

/** The campaigns: what they cost, and what came of it. */
export function CampaignList() {
  const view = useCampaigns();
  const may = useMay("runIntake");
  const [making, setMaking] = useState(false);
  const navigate = useNavigate();
  return (
    <Block as="section" aria-label="Campaigns" $below={8}>
      <Row $apart>
        <h2>Campaigns</h2>
        {may && <Button onPress={() => setMaking(true)}>New campaign</Button>}
      </Row>
      {view.isPending && <Skeleton rows={4} />}
      {view.data && (view.data.campaigns.length > 0 ? <Rows view={view.data} /> : <Cap>What you do to bring leads in, with what it costs and what comes of it, stands here.</Cap>)}
      {making && view.data && <CampaignDialog view={view.data} onDone={(key) => void navigate(`/intake/campaigns/${key}`)} onLeave={() => setMaking(false)} />}
    </Block>
  );
}

const numeric = (label: string) => ({ label, isNumber: true });
const head = ["Campaign", "When", ...["Members", "Brought in", "Handed over", "Won"].map(numeric)];
const costs = ["Spent", "For each brought in"].map(numeric);

function Rows({ view }: { view: Schema["CampaignsView"] }) {
  const kinds = Object.fromEntries(view.kinds.map((k) => [k.key, k.label]));
  return (
    <DataTable label="Campaigns" head={view.showsCosts ? [...head, ...costs] : head}>
      {view.campaigns.map((c) => (
        <FadedRow key={c.key} $faded={c.standing === "retired"}>
          <td>
            <Link to={`/intake/campaigns/${c.key}`}>{c.name}</Link>
            <Cap>{kinds[c.kind]}</Cap>
          </td>
          <td>
            {day(c.starts)} to {day(c.ends)}
            <Cap>{c.standing}</Cap>
          </td>
          <td className="n">{whole(c.members)}</td>
          <td className="n">
            {whole(c.fresh)}
            {c.target && <Cap>of {whole(c.target)} wanted</Cap>}
          </td>
          <td className="n">{whole(c.handedOver)}</td>
          <td className="n">
            {whole(c.won)}
            {c.wonAmount > 0 && <Cap>{money(c.wonAmount, c.currency)}</Cap>}
          </td>
          {c.spent != null && (
            <>
              <td className="n">
                {money(c.spent, c.currency)}
                {c.budget != null && <Cap>of {money(c.budget, c.currency)}</Cap>}
              </td>
              <td className="n">{c.costEach == null ? "–" : money(c.costEach, c.currency)}</td>
            </>
          )}
        </FadedRow>
      ))}
    </DataTable>
  );
}
