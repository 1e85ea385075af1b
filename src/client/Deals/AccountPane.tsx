import { useState } from "react";
import { Link } from "react-router";
import { api, must, type Schema } from "../api/client";
import { useAct } from "../common/acting";
import { usePeople } from "../common/people";
import { KeptTicks } from "../common/PickList";
import { useMay, useWorks } from "../common/session";
import { StoryList } from "../Leads/Story";
import { Button } from "../parts/Button";
import { ChoiceBox } from "../parts/Field";
import { Block, Stack } from "../parts/Layout";
import { WhyPane } from "../parts/WhyPane";
import { Subtitle, Text } from "../parts/Words";
import { AccountAddresses } from "./AccountAddresses";
import { AccountCampaigns, AccountDeals, AccountPeople } from "./AccountParts";
import { AccountFinder } from "./Finder";
import { RecordFacts } from "./RecordFacts";

type Account = Schema["AccountSheet"];
type Change = Partial<Schema["AccountChange"]>;

const blank: Schema["AccountChange"] = { name: null, household: null, kinds: null, segments: null, parent: null, owner: null };

/** An account opened beside the list: what it is, its people, its deals and its story. */
export function AccountPane({ account }: { account: Account }) {
  const may = useWorks("workDeals")(account.ownerId);
  const act = useAct();
  const change = (body: Change, words: string) => void act.run(() => must(api.PATCH("/api/accounts/{id}", { params: { path: { id: account.id } }, body: { ...blank, ...body } })), { changes: ["deal"], words });
  return (
    <WhyPane title={account.name}>
      <Family account={account} may={may} onChange={change} />
      <Standing account={account} may={may} onChange={change} />
      <AccountPeople account={account} />
      <AccountDeals account={account} />
      <AccountAddresses account={account} may={may} />
      <RecordFacts kind="accounts" id={account.id} title="Facts" mayWrite={may} />
      <AccountCampaigns account={account} />
      {account.tags.length > 0 && <Text $above={2}>Tags: {account.tags.join(", ")}</Text>}
      <Subtitle $above={4}>Story</Subtitle>
      <StoryList entries={account.story} />
    </WhyPane>
  );
}

type PartProps = { account: Account; may: boolean; onChange: (change: Change, words: string) => void };

// What it is a branch of, and its own branches.
function Family({ account, may, onChange }: PartProps) {
  return (
    <Block $below={3}>
      <Text as="div">
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
        {may && <Branching account={account} onChange={onChange} />}
      </Text>
    </Block>
  );
}

function Branching({ account, onChange }: Omit<PartProps, "may">) {
  const [finding, setFinding] = useState(false);
  const found = (parent: string, name: string) => {
    setFinding(false);
    onChange({ parent }, `${account.name} is a branch of ${name}.`);
  };
  if (finding) return <AccountFinder label="A branch of" onLeave={() => setFinding(false)} onFound={found} />;
  return (
    <div>
      <Button look="quiet" onPress={() => setFinding(true)}>
        {account.parent ? "Change what it is a branch of" : "Make it a branch"}
      </Button>
      {account.parent && (
        <Button look="quiet" onPress={() => onChange({ parent: account.id }, `${account.name} stands by itself.`)}>
          Let it stand by itself
        </Button>
      )}
    </div>
  );
}

function Standing({ account, may, onChange }: PartProps) {
  const people = usePeople().data ?? [];
  const mayGive = useMay("giveLeads");
  const { ownerId, ownerName } = account;
  const known = !ownerId || people.some((p) => p.id === ownerId);
  const owners = [...(known ? [] : [{ key: ownerId, label: ownerName ?? "somebody" }]), ...people.map((p) => ({ key: p.id, label: p.name }))];
  if (!may) return <Text>{ownerName && `${ownerName} looks after it.`}</Text>;
  return (
    <Stack $below={2}>
      <KeptTicks list="contact-kinds" label="Kinds" value={account.kinds} onChange={(kinds) => onChange({ kinds }, "The kinds are kept.")} />
      <KeptTicks list="segments" label="Segments" value={account.segments} onChange={(segments) => onChange({ segments }, "The segments are kept.")} />
      <ChoiceBox label="Looked after by" value={ownerId} options={owners} isDisabled={!mayGive} onChange={(owner) => onChange({ owner }, "The account is given on.")} />
    </Stack>
  );
}
