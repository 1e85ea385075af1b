import { useState } from "react";
import { Link } from "react-router";
import { api, must, type Schema } from "../api/client";
import { Aside, Cluster } from "../parts/Bench";
import { Button } from "../parts/Button";
import { Overlay } from "../parts/Dialog";
import { moment } from "../parts/format";
import { tell, tellError } from "../parts/Toast";
import { useMay, useRefresh, useSession } from "../common/session";

/** What a handed-over lead became, what arrived, and the way back. */
export function Became({ id, became }: { id: string; became: Schema["BecameView"] }) {
  const may = useMay("handOver");
  const back = useTakeBack(id);
  const { carried } = became;
  return (
    <Aside style={{ marginTop: 14, borderColor: "var(--good)" }}>
      <Cluster style={{ justifyContent: "space-between" }}>
        <span>
          Handed over and read-only. It became the deal <Link to={`/deals/${became.dealId}`}>{became.dealName}</Link>, the contact <Link to={`/deals/contacts/${became.contactId}`}>{became.contactName}</Link>
          {became.accountName && (
            <>
              {" "}
              at the account <Link to={`/deals/accounts/${became.accountId}`}>{became.accountName}</Link>
            </>
          )}
          .{carried && ` ${carried.found} of ${carried.known} facts carried${carried.left.length ? `; not carried: ${carried.left.map((l) => l.label.toLowerCase()).join(", ")}` : ""}.`}
        </span>
        {may && (
          <Button look="quiet" isDisabled={back.busy} onPress={() => void back.ask()}>
            Take the handover back
          </Button>
        )}
      </Cluster>
      {back.dialog}
    </Aside>
  );
}

/** Takes a handover back; where somebody worked with what it made, says what, and offers to keep that. */
export function useTakeBack(id: string, onDone?: () => void) {
  const refresh = useRefresh();
  const { timeZone } = useSession();
  const [busy, setBusy] = useState(false);
  const [look, setLook] = useState<Schema["TakeBackLook"]>();
  const path = { id };
  const back = async (keep: boolean) => {
    setBusy(true);
    try {
      await must(api.POST("/api/leads/{id}/handover/take-back", { params: { path }, body: { keep } }));
      setLook(undefined);
      await refresh();
      tell(keep ? "The lead is qualified again; the deal stays." : "The handover is taken back; the lead is qualified again.");
      onDone?.();
    } catch (e) {
      tellError(e);
      await refresh();
    } finally {
      setBusy(false);
    }
  };
  const ask = async () => {
    try {
      const found = await must(api.GET("/api/leads/{id}/handover/take-back", { params: { path } }));
      if (found.since.length || found.along.length || found.stays.length) setLook(found);
      else await back(false);
    } catch (e) {
      tellError(e);
    }
  };
  const dialog = (
    <Overlay title="Take the handover back" isOpen={!!look} onClose={() => setLook(undefined)}>
      {look && look.along.length > 0 && <p style={{ marginBottom: 12 }}>{look.along.join(", ")} came along and {look.along.length === 1 ? "goes" : "go"} back with it.</p>}
      {look && look.since.length === 0 && look.stays.length > 0 && <p style={{ marginBottom: 12 }}>Others use {look.stays.join(" and ")} by now, so that stays.</p>}
      {look && look.since.length > 0 && (
        <>
          <p>Since then this was done with what it made:</p>
          <ul style={{ paddingLeft: 18, margin: "8px 0 14px", fontSize: 14 }}>
            {look.since.map((s, i) => (
              <li key={i}>
                {s.text}
                <span style={{ color: "var(--soft)" }}>
                  , {moment(s.at, timeZone)}
                  {s.by && `, ${s.by}`}
                </span>
              </li>
            ))}
          </ul>
          <p style={{ marginBottom: 14 }}>It is kept, with the deal, its contact and account; only the lead comes back.</p>
        </>
      )}
      <Cluster>
        <Button look="main" isDisabled={busy} onPress={() => void back(!!look?.since.length)}>
          {look?.since.length ? "Keep the deal, take the lead back" : "Take it back"}
        </Button>
        <Button look="quiet" onPress={() => setLook(undefined)}>
          Leave it
        </Button>
      </Cluster>
    </Overlay>
  );
  return { ask, now: () => back(false), busy, dialog };
}
