import { useState } from "react";
import { Link } from "react-router";
import { api, must, type Schema } from "../api/client";
import { useAct } from "../common/acting";
import { PickListChoice } from "../common/PickList";
import { useWorks } from "../common/session";
import { StoryList } from "../Leads/Story";
import { Aside } from "../parts/Bench";
import { Button } from "../parts/Button";
import { Fold } from "../parts/Fold";
import { day } from "../parts/format";
import { Block } from "../parts/Layout";
import { WhyPane } from "../parts/WhyPane";
import { Subtitle, Text } from "../parts/Words";
import { ContactConsents, ContactDeals, ContactLeads } from "./ContactParts";
import { Entry } from "./directory";
import { AccountFinder, ContactFinder } from "./Finder";
import { RecordFacts } from "./RecordFacts";

type Contact = Schema["ContactSheet"];
type Change = Partial<Schema["ContactChange"]>;

const blank: Schema["ContactChange"] = { kind: null, reportsTo: null, account: null, owner: null };

/** A contact opened beside the list: what they are to us, whom they report to, where they work and worked, their part in deals. */
export function ContactPane({ contact }: { contact: Contact }) {
  const may = useWorks("workDeals")(contact.ownerId);
  const act = useAct();
  const change = (body: Change, words: string) => void act.run(() => must(api.PATCH("/api/contacts/{id}", { params: { path: { id: contact.id } }, body: { ...blank, ...body } })), { changes: ["deal"], words });
  return (
    <WhyPane title={contact.name}>
      <Text $below={3}>
        {contact.jobTitle && `${contact.jobTitle}. `}
        {contact.ownerName && `${contact.ownerName} looks after them.`}
      </Text>
      {contact.barred && (
        <Block $below={3}>
          <Aside $colour="bad">Wants no contact from us.</Aside>
        </Block>
      )}
      {may ? <PickListChoice list="contact-kinds" label="Kind" none="none in particular" value={contact.kind} onChange={(kind) => change({ kind }, "The kind is kept.")} /> : <Text>{contact.kindName}</Text>}
      <Reports contact={contact} may={may} onChange={change} />
      <Places contact={contact} may={may} onChange={change} />
      <ContactDeals contact={contact} />
      <ContactConsents contact={contact} />
      <RecordFacts kind="contacts" id={contact.id} title="Facts" mayWrite={may} />
      <ContactLeads contact={contact} />
      {contact.tags.length > 0 && <Text $above={2}>Tags: {contact.tags.join(", ")}</Text>}
      <Subtitle $above={4}>Story</Subtitle>
      <StoryList entries={contact.story} />
    </WhyPane>
  );
}

type PartProps = { contact: Contact; may: boolean; onChange: (change: Change, words: string) => void };

function Reports({ contact, may, onChange }: PartProps) {
  return (
    <Text as="div" $above={3} $below={3}>
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
      {may && <Reporting contact={contact} onChange={onChange} />}
    </Text>
  );
}

function Reporting({ contact, onChange }: Omit<PartProps, "may">) {
  const [finding, setFinding] = useState(false);
  const first = contact.accounts.find((a) => !a.until)?.accountId;
  const found = (reportsTo: string, name: string) => {
    setFinding(false);
    onChange({ reportsTo }, `${contact.name} reports to ${name}.`);
  };
  if (finding) return <ContactFinder label="Reports to" account={first} onLeave={() => setFinding(false)} onFound={found} />;
  return (
    <div>
      <Button look="quiet" onPress={() => setFinding(true)}>
        Say whom they report to
      </Button>
      {contact.reportsTo && (
        <Button look="quiet" onPress={() => onChange({ reportsTo: contact.id }, `${contact.name} reports to nobody.`)}>
          To nobody
        </Button>
      )}
    </div>
  );
}

// Where they work, beside it, and where they worked.
function Places({ contact, may, onChange }: PartProps) {
  const [finding, setFinding] = useState(false);
  const found = (account: string, name: string) => {
    setFinding(false);
    onChange({ account }, `${contact.name} is at ${name} now.`);
  };
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
      {may && finding && <AccountFinder label="They work at" onLeave={() => setFinding(false)} onFound={found} />}
      {may && !finding && (
        <Button look="quiet" onPress={() => setFinding(true)}>
          They went elsewhere
        </Button>
      )}
    </Fold>
  );
}
