import { useState } from "react";
import { Link } from "react-router";
import { useAct } from "../common/acting";
import { order, useFollow } from "../common/bulk";
import { CompanyForm } from "../Company/CompanyForm";
import { LogoBox } from "../Company/LogoBox";
import { MailForm } from "../Company/MailForm";
import { useCompany, useMail } from "../Company/queries";
import { Notice } from "../parts/Bench";
import { Button } from "../parts/Button";
import { count } from "../parts/format";
import { Block, Plain, Stack } from "../parts/Layout";
import { ErrorNote, Skeleton } from "../parts/States";
import { Ticks } from "../parts/Ticks";
import { Text, Wrong } from "../parts/Words";
import { PeopleList } from "../People/PeopleList";
import { startActs, type Start, type Step } from "./queries";
import { SetChoice } from "./SetChoice";

type Props = { start: Start; onDone: () => void };

/** What one does in a step. */
export function StepBody({ at, ...props }: Props & { at: Step }) {
  switch (at) {
    case "company":
      return <CompanyStep {...props} />;
    case "mail":
      return <MailStep {...props} />;
    case "people":
      return <PeopleList />;
    case "ways":
      return <WaysStep {...props} />;
    case "set":
      return <SetChoice {...props} />;
    case "leads":
      return <LeadsStep {...props} />;
    case "handover":
      return <HandoverStep {...props} />;
  }
}

function CompanyStep({ onDone }: Props) {
  const company = useCompany();
  if (company.isPending) return <Skeleton />;
  if (company.isError) return <ErrorNote error={company.error} />;
  return (
    <Stack $gap={6} $width={560}>
      <CompanyForm key={company.data.version} company={company.data} words="Keep, and go on" onDone={onDone} />
      {company.data.version > 0 && <LogoBox company={company.data} />}
    </Stack>
  );
}

function MailStep({ onDone }: Props) {
  const mail = useMail();
  if (mail.isPending) return <Skeleton />;
  if (mail.isError) return <ErrorNote error={mail.error} />;
  return (
    <Stack $width={560}>
      <MailForm key={mail.data.version} mail={mail.data} words="Keep, and go on" onDone={onDone} />
    </Stack>
  );
}

function WaysStep({ start, onDone }: Props) {
  const act = useAct("here");
  const [ways, setWays] = useState(start.chosen);
  const keep = () => void act.run(() => startActs.choose(ways), { changes: ["start"], then: onDone });
  return (
    <Stack $gap={4} $width={420}>
      <Ticks label="Leads come by" options={start.ways} value={ways} onChange={setWays} isDisabled={!!start.set} />
      {act.any && <Wrong>{act.any}</Wrong>}
      {start.set ? (
        <Text>
          The sources are there already; <Link to="/setup/sources">add or change them</Link>.
        </Text>
      ) : (
        <div>
          <Button look="main" onPress={keep} isPending={act.busy} isDisabled={ways.length === 0}>
            Keep, and go on
          </Button>
        </div>
      )}
    </Stack>
  );
}

function LeadsStep({ start }: Props) {
  if (!start.set && !start.steps.find((s) => s.key === "set")?.done)
    return (
      <Text>
        Leads can be taken in once there is <Link to="/setup/start/set">a starting set</Link>: it says how they are scored and who gets them.
      </Text>
    );
  return (
    <Stack $width={560}>
      {start.leads > 0 && <Text role="status">There {start.leads === 1 ? "is 1 lead" : `are ${start.leads > 99 ? "a hundred leads or more" : count(start.leads, "lead")}`} already.</Text>}
      {start.leads > 0 && start.unowned > 0 && <Unowned start={start} />}
      {start.leads === 0 && start.atWork === 0 && <Text>Nobody who works leads has come in yet. Leads that come in meanwhile wait without an owner, and are given with one press later.</Text>}
      <Plain $gap={3}>
        <li>
          <Link to="/intake">Drop a list</Link>: a CSV or a workbook as you have it. You see first what would become of each row.
        </li>
        {start.firstForm && (
          <li>
            <a href={`/f/${start.firstForm}`} target="_blank" rel="noreferrer">
              Fill in your form
            </a>{" "}
            as a visitor would, or <Link to={`/intake/forms/${start.firstForm}`}>change it</Link> and put it on your web site.
          </li>
        )}
        <li>
          <Link to="/leads">Make one lead by hand</Link>: the button New lead, or the key n.
        </li>
      </Plain>
    </Stack>
  );
}

/** Leads that came in before those who work them. */
function Unowned({ start }: { start: Start }) {
  const [given, setGiven] = useState<string | null>(null);
  const act = useAct();
  useFollow(given, setGiven);
  const give = () => void act.run(() => order({ act: { kind: "give", to: [], byRules: true }, where: withoutOwner }, crypto.randomUUID()), { changes: [], then: (edit) => setGiven(edit.id) });
  return (
    <Notice>
      {start.unowned > 99 ? "A hundred or more" : start.unowned} of them wait without an owner.{" "}
      {start.atWork > 0 ? (
        <Button onPress={give} isPending={act.busy || !!given}>
          Give them by the rules
        </Button>
      ) : (
        "Once a rep or a qualifier has come in, they can be given by the rules from here."
      )}
    </Notice>
  );
}

const withoutOwner = JSON.stringify({ all: [{ not: { field: "owner", is: "known", values: [] } }, { field: "state", is: "in", values: ["new", "in_work"] }] });

function HandoverStep({ start }: Props) {
  if (start.steps.find((s) => s.key === "handover")!.done)
    return (
      <Text>
        One lead has gone the whole way. Go on at the <Link to="/desk">Desk</Link>; whatever you want otherwise stands under <Link to="/setup">Setup</Link>.
      </Text>
    );
  if (!start.firstLead)
    return (
      <Block>
        <Text>
          It needs a lead: <Link to="/setup/start/leads">get the first ones</Link>.
        </Text>
      </Block>
    );
  return (
    <Stack $width={560}>
      <Plain as="ol" $gap={3}>
        <li>
          <Link to={`/leads/${start.firstLead}`}>Open the first lead</Link>. The reasons for its score and its owner stand at the right.
        </li>
        <li>Note what was said, and answer the questions of qualifying: need, budget, authority, timing.</li>
        <li>
          Qualify it. It then stands at the <Link to="/handover">Handover</Link>: see where each fact goes, and hand it over.
        </li>
        <li>
          The deal it becomes stands in the lanes of <Link to="/deals">Deals</Link>.
        </li>
      </Plain>
    </Stack>
  );
}
