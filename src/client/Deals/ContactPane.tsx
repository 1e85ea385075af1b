import { useState } from "react";
import { Link } from "react-router";
import { api, must, type Schema } from "../api/client";
import { Aside } from "../parts/Bench";
import { useActing } from "../common/acting";
import { Button } from "../parts/Button";
import { Fold } from "../parts/Fold";
import { day, money } from "../parts/format";
import { PickListChoice } from "../common/PickList";
import { WhyPane } from "../parts/WhyPane";
import { StoryList } from "../Leads/Story";
import { useMay, useSession } from "../common/session";
import { Entry } from "./directory";
import { AccountFinder, ContactFinder } from "./Finder";
import { RecordFacts } from "./RecordFacts";

type Contact = Schema["ContactSheet"];
type Change = Partial<Schema["ContactChange"]>;

const blank: Schema["ContactChange"] = { kind: null, reportsTo: null, account: null, owner: null };

/** A contact opened beside the list: what they are to us, whom they report to, where they work and worked, their part in deals. */
export function ContactPane({ contact }: { contact: Contact }) {
  const session = useSession();
  const works = useMay("workDeals");
  const may = works && (session.role !== "rep" || contact.ownerId === session.id);
  const act = useActing();
  const change = (body: Change, words: string) => act(() => must(api.PATCH("/api/contacts/{id}", { params: { path: { id: contact.id } }, body: { ...blank, ...body } })), words);
  return (
    <WhyPane title={contact.name}>
      <p style={{ fontSize: 14, marginBottom: 10 }}>
        {contact.jobTitle && `${contact.jobTitle}. `}
        {contact.ownerName && `${contact.ownerName} looks after them.`}
      </p>
      {contact.barred && <Aside style={{ borderColor: "var(--bad)", marginBottom: 10 }}>Wants no contact from us.</Aside>}
      {may ? <PickListChoice list="contact-kinds" label="Kind" none="none in particular" value={contact.kind} onChange={(kind) => void change({ kind }, "The kind is kept.")} /> : <p style={{ fontSize: 14 }}>{contact.kindName}</p>}
      <Reports contact={contact} may={may} onChange={change} />
      <Places contact={contact} may={may} onChange={change} />
      <Fold title={`Deals, ${contact.deals.length}`} open>
        {contact.deals.map((d) => (
          <Entry key={d.id}>
            <span>
              <Link to={`/deals/${d.id}`}>{d.name}</Link>
              <small>{[d.stageName, d.roles.length ? `as ${d.roles.map((r) => r.toLowerCase()).join(", ")}` : null].filter(Boolean).join(", ")}</small>
            </span>
            <span style={{ whiteSpace: "nowrap" }}>{money(d.amount, d.currency)}</span>
          </Entry>
        ))}
      </Fold>
      <Fold title="Consent">
        {contact.consents.map((c) => (
          <Entry key={c.purpose}>
            <span>{c.label}</span>
            <span>{c.state === "unknown" ? "not asked" : c.state}</span>
          </Entry>
        ))}
      </Fold>
      <RecordFacts kind="contacts" id={contact.id} title="Facts" mayWrite={may} />
      {contact.leads.length > 0 && (
        <Fold title={`Leads they were, ${contact.leads.length}`}>
          {contact.leads.map((l) => (
            <Entry key={l.id}>
              <Link to={`/leads/${l.id}`}>
                {l.name}, lead {l.number}
              </Link>
              <span>{day(l.at)}</span>
            </Entry>
          ))}
        </Fold>
      )}
      {contact.tags.length > 0 && <p style={{ fontSize: 14, marginTop: 8 }}>Tags: {contact.tags.join(", ")}</p>}
      <h3 style={{ margin: "18px 0 2px" }}>Story</h3>
      <StoryList entries={contact.story} />
    </WhyPane>
  );
}

type PartProps = { contact: Contact; may: boolean; onChange: (change: Change, words: string) => Promise<boolean> };

function Reports({ contact, may, onChange }: PartProps) {
  const [finding, setFinding] = useState(false);
  const first = contact.accounts.find((a) => !a.until)?.accountId;
  return (
    <div style={{ fontSize: 14, margin: "10px 0" }}>
      {contact.reportsTo ? "Reports to " : "Reports to nobody we know of. "}
      {contact.reportsTo && <Link to={`/deals/contacts/${contact.reportsTo.id}`}>{contact.reportsTo.name}</Link>}
      {contact.reportsTo && ". "}
      {contact.reports.length > 0 && "To them report "}
      {contact.reports.map((r, i) => (
        <span key={r.id}>
          {i > 0 && ", "}
          <Link to={`/deals/contacts/${r.id}`}>{r.name}</Link>
        </span>
      ))}
      {may &&
        (finding ? (
          <ContactFinder label="Reports to" account={first} onLeave={() => setFinding(false)} onFound={(reportsTo, name) => (setFinding(false), void onChange({ reportsTo }, `${contact.name} reports to ${name}.`))} />
        ) : (
          <div>
            <Button look="quiet" onPress={() => setFinding(true)}>
              Say whom they report to
            </Button>
            {contact.reportsTo && (
              <Button look="quiet" onPress={() => void onChange({ reportsTo: contact.id }, `${contact.name} reports to nobody.`)}>
                To nobody
              </Button>
            )}
          </div>
        ))}
    </div>
  );
}

// Where they work, beside it, and where they worked.
function Places({ contact, may, onChange }: PartProps) {
  const [finding, setFinding] = useState(false);
  return (
    <Fold title={`Accounts, ${contact.accounts.length}`} open>
      {contact.accounts.map((a) => (
        <Entry key={a.id + a.accountId}>
          <span>
            <Link to={`/deals/accounts/${a.accountId}`}>{a.name}</Link>
            <small>{[a.title, a.until ? `until ${day(a.until)}` : a.since ? `since ${day(a.since)}` : null].filter(Boolean).join(", ")}</small>
          </span>
        </Entry>
      ))}
      {may &&
        (finding ? (
          <AccountFinder label="They work at" onLeave={() => setFinding(false)} onFound={(account, name) => (setFinding(false), void onChange({ account }, `${contact.name} is at ${name} now.`))} />
        ) : (
          <Button look="quiet" onPress={() => setFinding(true)}>
            They went elsewhere
          </Button>
        ))}
    </Fold>
  );
}
