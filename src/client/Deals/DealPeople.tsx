import { useState } from "react";
import { Link } from "react-router";
import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { PickListChoice } from "../common/PickList";
import { Button } from "../parts/Button";
import { Fold } from "../parts/Fold";
import { small } from "../parts/theme";
import { useDealAct } from "./acting";
import { DealMessage } from "./DealMessage";
import { ContactFinder } from "./Finder";

const Row = styled.div`
  padding: 6px 0;
  border-bottom: 1px solid var(--hair);
  font-size: 14px;
  .top {
    display: flex;
    justify-content: space-between;
    gap: 8px;
    align-items: baseline;
  }
  small {
    ${small}
    display: block;
  }
`;

const nobody = "00000000-0000-0000-0000-000000000000";

type Sheet = Schema["DealSheet"];

/** The people in a deal, each with their part. Messages and automations address people by these parts. */
export function DealPeople({ sheet, may }: { sheet: Sheet; may: boolean }) {
  const [writing, setWriting] = useState(false);
  return (
    <Fold title={`People, ${sheet.people.length}`} open>
      {sheet.people.map((p) => (
        <Person key={p.id + p.contactId} deal={sheet.deal.id} person={p} may={may} />
      ))}
      {may && <Joining sheet={sheet} onWrite={() => setWriting(true)} />}
      {writing && <DealMessage sheet={sheet} onLeave={() => setWriting(false)} />}
    </Fold>
  );
}

const join = (id: string, contactId: string, role: string) => must(api.POST("/api/deals/{id}/people", { params: { path: { id } }, body: { contactId, role } }));

function Person({ deal, person: p, may }: { deal: string; person: Sheet["people"][number]; may: boolean }) {
  const act = useDealAct(deal);
  const path = { id: deal, person: p.id };
  const recast = (role: string) => (p.id === nobody ? join(deal, p.contactId, role) : must(api.PUT("/api/deals/{id}/people/{person}", { params: { path }, body: { contactId: p.contactId, role } })));
  const leave = () => void act.run(() => must(api.DELETE("/api/deals/{id}/people/{person}", { params: { path } })), { words: `${p.name} is taken off the deal.` });
  return (
    <Row>
      <div className="top">
        <Link to={`/deals/contacts/${p.contactId}`}>{p.name}</Link>
        {may && !p.first && (
          <Button look="quiet" aria-label={`Take ${p.name} off the deal`} onPress={leave}>
            ×
          </Button>
        )}
      </div>
      {may ? (
        <PickListChoice hideLabel list="deal-roles" label={`The part ${p.name} has`} none="no part in particular" value={p.role} onChange={(role) => void act.run(() => recast(role))} />
      ) : (
        <small>{p.roleName ?? "no part in particular"}</small>
      )}
    </Row>
  );
}

function Joining({ sheet, onWrite }: { sheet: Sheet; onWrite: () => void }) {
  const [adding, setAdding] = useState(false);
  const act = useDealAct(sheet.deal.id);
  const found = (contact: string) => {
    setAdding(false);
    void act.run(() => join(sheet.deal.id, contact, ""));
  };
  if (adding) return <ContactFinder label="Who joins" account={sheet.deal.accountId ?? undefined} onFound={found} onLeave={() => setAdding(false)} />;
  return (
    <>
      <Button look="quiet" onPress={() => setAdding(true)}>
        Add somebody
      </Button>
      <Button look="quiet" onPress={onWrite}>
        Write to them
      </Button>
    </>
  );
}
