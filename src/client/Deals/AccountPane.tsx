import { useState } from "react";
import { Link } from "react-router";
import { api, must, type Schema } from "../api/client";
import { useActing } from "../common/acting";
import { Button } from "../parts/Button";
import { ChoiceBox } from "../parts/Field";
import { Fold } from "../parts/Fold";
import { day, money } from "../parts/format";
import { KeptTicks } from "../common/PickList";
import { WhyPane } from "../parts/WhyPane";
import { usePeople } from "../common/people";
import { StoryList } from "../Leads/Story";
import { useMay, useSession } from "../common/session";
import { AccountAddresses } from "./AccountAddresses";
import { Entry } from "./directory";
import { AccountFinder } from "./Finder";
import { RecordFacts } from "./RecordFacts";

type Account = Schema["AccountSheet"];
type Change = Partial<Schema["AccountChange"]>;

const blank: Schema["AccountChange"] = { name: null, household: null, kinds: null, segments: null, parent: null, owner: null };

/** An account opened beside the list: what it is, who belongs to it, its deals and its story. */
export function AccountPane({ account }: { account: Account }) {
  const session = useSession();
  const works = useMay("workDeals");
  const may = works && (session.role !== "rep" || account.ownerId === session.id);
  const act = useActing();
  const change = (body: Change, words: string) => act(() => must(api.PATCH("/api/accounts/{id}", { params: { path: { id: account.id } }, body: { ...blank, ...body } })), words);
  return (
    <WhyPane title={account.name}>
      <Family account={account} may={may} onChange={change} />
      <Standing account={account} may={may} onChange={change} />
      <Fold title={`People, ${account.contacts.length}`} open>
        {account.contacts.map((c) => (
          <Entry key={c.id} style={{ paddingLeft: c.depth * 18 }}>
            <span>
              <Link to={`/deals/contacts/${c.id}`}>{c.name}</Link>
              <small>{[c.jobTitle, c.former && "was here once"].filter(Boolean).join(", ")}</small>
              <small style={{ overflowWrap: "anywhere" }}>{c.email}</small>
            </span>
          </Entry>
        ))}
      </Fold>
      <Fold title={`Deals, ${account.deals.length}`} open>
        {account.deals.map((d) => (
          <Entry key={d.id}>
            <span>
              <Link to={`/deals/${d.id}`}>{d.name}</Link>
              <small>{d.closedAt ? `closed ${day(d.closedAt)}` : `expected ${day(d.expectedClose)}${d.late ? ", late" : ""}`}</small>
            </span>
            <span style={{ whiteSpace: "nowrap" }}>{money(d.amount, d.currency)}</span>
          </Entry>
        ))}
      </Fold>
      <AccountAddresses account={account} may={may} />
      <RecordFacts kind="accounts" id={account.id} title="Facts" mayWrite={may} />
      {account.campaigns.length > 0 && (
        <Fold title="Campaigns">
          {account.campaigns.map((c) => (
            <Entry key={c.key}>
              <Link to={`/intake/campaigns/${c.key}`}>{c.name}</Link>
              <span>{c.people === 1 ? "one person" : `${c.people} people`}</span>
            </Entry>
          ))}
        </Fold>
      )}
      {account.tags.length > 0 && <p style={{ fontSize: 14, marginTop: 8 }}>Tags: {account.tags.join(", ")}</p>}
      <h3 style={{ margin: "18px 0 2px" }}>Story</h3>
      <StoryList entries={account.story} />
    </WhyPane>
  );
}

type PartProps = { account: Account; may: boolean; onChange: (change: Change, words: string) => Promise<boolean> };

// What it is a branch of, and its own branches.
function Family({ account, may, onChange }: PartProps) {
  const [finding, setFinding] = useState(false);
  return (
    <div style={{ fontSize: 14, marginBottom: 10 }}>
      {account.household ? "A household." : "An organisation."} {account.parent ? "A branch of " : ""}
      {account.parent && <Link to={`/deals/accounts/${account.parent.id}`}>{account.parent.name}</Link>}
      {account.parent && ". "}
      {account.branches.length > 0 && "Branches: "}
      {account.branches.map((b, i) => (
        <span key={b.id}>
          {i > 0 && ", "}
          <Link to={`/deals/accounts/${b.id}`}>{b.name}</Link>
        </span>
      ))}
      {may &&
        (finding ? (
          <AccountFinder label="A branch of" onLeave={() => setFinding(false)} onFound={(parent, name) => (setFinding(false), void onChange({ parent }, `${account.name} is a branch of ${name}.`))} />
        ) : (
          <div>
            <Button look="quiet" onPress={() => setFinding(true)}>
              {account.parent ? "Change what it is a branch of" : "Make it a branch"}
            </Button>
            {account.parent && (
              <Button look="quiet" onPress={() => void onChange({ parent: account.id }, `${account.name} stands by itself.`)}>
                Let it stand by itself
              </Button>
            )}
          </div>
        ))}
    </div>
  );
}

function Standing({ account, may, onChange }: PartProps) {
  const people = usePeople().data ?? [];
  const mayGive = useMay("giveLeads");
  const owners = [...(account.ownerId && people.every((p) => p.id !== account.ownerId) ? [{ key: account.ownerId, label: account.ownerName ?? "somebody" }] : []), ...people.map((p) => ({ key: p.id, label: p.name }))];
  if (!may) return <p style={{ fontSize: 14 }}>{account.ownerName && `${account.ownerName} looks after it.`}</p>;
  return (
    <div style={{ display: "grid", gap: 10, marginBottom: 8 }}>
      <KeptTicks list="contact-kinds" label="Kinds" value={account.kinds} onChange={(kinds) => void onChange({ kinds }, "The kinds are kept.")} />
      <KeptTicks list="segments" label="Segments" value={account.segments} onChange={(segments) => void onChange({ segments }, "The segments are kept.")} />
      <ChoiceBox label="Looked after by" value={account.ownerId} options={owners} isDisabled={!mayGive} onChange={(owner) => void onChange({ owner }, "The account is given on.")} />
    </div>
  );
}
