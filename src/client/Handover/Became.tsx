import { useState } from "react";
import { Link } from "react-router";
import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { useAct } from "../common/acting";
import { useMay, useSession } from "../common/session";
import { Aside, Cluster } from "../parts/Bench";
import { Button } from "../parts/Button";
import { Overlay } from "../parts/Dialog";
import { moment } from "../parts/format";
import { Block, Row } from "../parts/Layout";
import { Quiet, Text } from "../parts/Words";

const Marked = styled.ul`
  padding-left: 18px;
  margin: 8px 0 14px;
  font-size: 14px;
`;

/** What a handed-over lead became, what arrived, and the way back. */
export function Became({ id, became }: { id: string; became: Schema["BecameView"] }) {
  const may = useMay("handOver");
  const back = useTakeBack(id);
  const { carried } = became;
  return (
    <Block $above={3}>
      <Aside $colour="good">
        <Row $apart>
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
            <Button look="quiet" isPending={back.busy} onPress={back.ask}>
              Take the handover back
            </Button>
          )}
        </Row>
        {back.dialog}
      </Aside>
    </Block>
  );
}

type Look = Schema["TakeBackLook"];

/** Takes a handover back; where somebody worked with what it made, says what, and offers to keep that. */
export function useTakeBack(id: string, onDone?: () => void) {
  const act = useAct();
  const [look, setLook] = useState<Look>();
  const path = { id };
  const take = (keep: boolean) => must(api.POST("/api/leads/{id}/handover/take-back", { params: { path }, body: { keep } }));
  const back = (keep: boolean) =>
    act.run(() => take(keep), {
      changes: ["lead", "deal"],
      words: keep ? "The lead is qualified again; the deal stays." : "The handover is taken back; the lead is qualified again.",
      then: () => {
        setLook(undefined);
        onDone?.();
      },
    });
  // Looked at first: what was done since must not go without a word.
  const ask = async () => {
    let found: Look | undefined;
    await act.run(() => must(api.GET("/api/leads/{id}/handover/take-back", { params: { path } })), { changes: [], then: (seen) => void (found = seen) });
    if (!found) return;
    if (found.since.length || found.along.length || found.stays.length) setLook(found);
    else await back(false);
  };
  const dialog = look && <TakeBack look={look} busy={act.busy} onBack={(keep) => void back(keep)} onLeave={() => setLook(undefined)} />;
  return { ask: () => void ask(), now: () => back(false), busy: act.busy, dialog };
}

type TakeBackProps = { look: Look; busy: boolean; onBack: (keep: boolean) => void; onLeave: () => void };

function TakeBack({ look, busy, onBack, onLeave }: TakeBackProps) {
  const worked = look.since.length > 0;
  return (
    <Overlay title="Take the handover back" isOpen onClose={onLeave}>
      {look.along.length > 0 && (
        <Text $below={3}>
          {look.along.join(", ")} came along and {look.along.length === 1 ? "goes" : "go"} back with it.
        </Text>
      )}
      {!worked && look.stays.length > 0 && <Text $below={3}>Others use {look.stays.join(" and ")} by now, so that stays.</Text>}
      {worked && <Since look={look} />}
      <Cluster>
        <Button look="main" isPending={busy} onPress={() => onBack(worked)}>
          {worked ? "Keep the deal, take the lead back" : "Take it back"}
        </Button>
        <Button look="quiet" onPress={onLeave}>
          Leave it
        </Button>
      </Cluster>
    </Overlay>
  );
}

function Since({ look }: { look: Look }) {
  const { timeZone } = useSession();
  return (
    <>
      <Text>Since then this was done with what it made:</Text>
      <Marked>
        {look.since.map((s, i) => (
          <li key={i}>
            {s.text}
            <Quiet>
              , {moment(s.at, timeZone)}
              {s.by && `, ${s.by}`}
            </Quiet>
          </li>
        ))}
      </Marked>
      <Text $below={3}>It is kept, with the deal, its contact and account; only the lead comes back.</Text>
    </>
  );
}
