import { useState } from "react";
import { Link, useNavigate } from "react-router";
import type { Schema } from "../api/client";
import { Cap, Table } from "../parts/Bench";
import { Button } from "../parts/Button";
import { Overlay } from "../parts/Dialog";
import { day, money, whole } from "../parts/format";
import { useMay } from "../common/session";
import { CampaignForm } from "./CampaignForm";
import { useCampaigns } from "./queries";

/** The campaigns: what they cost, and what came of it. */
export function CampaignList() {
  const view = useCampaigns();
  const may = useMay("runIntake");
  const [making, setMaking] = useState(false);
  const navigate = useNavigate();
  if (!view.data) return null;
  return (
    <section aria-label="Campaigns" style={{ marginBottom: 34 }}>
      <div style={{ display: "flex", justifyContent: "space-between", alignItems: "center" }}>
        <h2>Campaigns</h2>
        {may && <Button onPress={() => setMaking(true)}>New campaign</Button>}
      </div>
      {view.data.campaigns.length > 0 ? <Rows view={view.data} /> : <Cap>What you do to bring leads in, with what it costs and what comes of it, stands here.</Cap>}
      <Overlay title="New campaign" isOpen={making} onClose={() => setMaking(false)} width={560}>
        <CampaignForm view={view.data} onDone={(key) => void navigate(`/intake/campaigns/${key}`)} />
      </Overlay>
    </section>
  );
}

function Rows({ view }: { view: Schema["CampaignsView"] }) {
  const kinds = Object.fromEntries(view.kinds.map((k) => [k.key, k.label]));
  return (
    <Table>
      <thead>
        <tr>
          <th>Campaign</th>
          <th>When</th>
          <th className="n">Members</th>
          <th className="n">Brought in</th>
          <th className="n">Handed over</th>
          <th className="n">Won</th>
          <th className="n">Spent</th>
          <th className="n">For each brought in</th>
        </tr>
      </thead>
      <tbody>
        {view.campaigns.map((c) => (
          <tr key={c.key} style={c.standing === "retired" ? { color: "var(--soft)" } : undefined}>
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
            <td className="n">
              {money(c.spent, c.currency)}
              {c.budget != null && <Cap>of {money(c.budget, c.currency)}</Cap>}
            </td>
            <td className="n">{c.costEach == null ? "–" : money(c.costEach, c.currency)}</td>
          </tr>
        ))}
      </tbody>
    </Table>
  );
}
