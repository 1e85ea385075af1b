import { useState } from "react";
import { Link } from "react-router";
import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { Button } from "../parts/Button";
import { Fold } from "../parts/Fold";
import { PickListChoice } from "../common/PickList";
import { small } from "../parts/theme";
import { DealMessage } from "./DealMessage";
import { ContactFinder } from "./Finder";
import { useDealAct } from "./parts";

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

/** Who is in a deal, and as what. Messages and automations address people by these parts. */
export function DealPeople({ sheet, may }: { sheet: Schema["DealSheet"]; may: boolean }) {
  const { id } = sheet.deal;
  const act = useDealAct(id);
  const [adding, setAdding] = useState(false);
  const [writing, setWriting] = useState(false);
  const path = { id };
  const join = (contactId: string, role: string) => act(() => must(api.POST("/api/deals/{id}/people", { params: { path }, body: { contactId, role } })));
  const recast = (person: string, contactId: string, role: string) => act(() => must(api.PUT("/api/deals/{id}/people/{person}", { params: { path: { id, person } }, body: { contactId, role } })));
  const leave = (person: string) => act(() => must(api.DELETE("/api/deals/{id}/people/{person}", { params: { path: { id, person } } })));
  return (
    <Fold title={`People, ${sheet.people.length}`} open>
      {sheet.people.map((p) => (
        <Row key={p.id + p.contactId}>
          <div className="top">
            <Link to={`/deals/contacts/${p.contactId}`}>{p.name}</Link>
            {may && !p.first && (
              <Button look="quiet" aria-label={`Take ${p.name} off the deal`} onPress={() => void leave(p.id)}>
                ×
              </Button>
            )}
          </div>
          {may ? (
            <PickListChoice hideLabel list="deal-roles" label={`The part ${p.name} has`} none="no part in particular" value={p.role} onChange={(role) => void (p.id === nobody ? join(p.contactId, role) : recast(p.id, p.contactId, role))} />
          ) : (
            <small>{p.roleName ?? "no part in particular"}</small>
          )}
        </Row>
      ))}
      {may &&
        (adding ? (
          <ContactFinder label="Who joins" account={sheet.deal.accountId ?? undefined} onFound={(contact) => (setAdding(false), void join(contact, ""))} onLeave={() => setAdding(false)} />
        ) : (
          <>
            <Button look="quiet" onPress={() => setAdding(true)}>
              Add somebody
            </Button>
            <Button look="quiet" onPress={() => setWriting(true)}>
              Write to them
            </Button>
          </>
        ))}
      {writing && <DealMessage sheet={sheet} onLeave={() => setWriting(false)} />}
    </Fold>
  );
}
