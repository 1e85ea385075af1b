import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { ChoiceBox } from "../parts/Field";
import { Stack } from "../parts/Layout";
import { Ticks } from "../parts/Ticks";
import { Hint } from "../parts/Words";
import type { Change } from "./queries";
import { TermsConsent } from "./TermsConsent";

const Others = styled.details`
  summary {
    cursor: pointer;
    min-height: 24px;
  }
`;

const none = "–";

const policies = [
  { key: "fillBlanks", label: "fill blanks only" },
  { key: "keepOurs", label: "keep ours" },
  { key: "takeTheirs", label: "take theirs" },
  { key: "newestWins", label: "newest wins" },
];

type Policy = Schema["ImportPolicies"]["all"];
type Sieve = Schema["SieveView"];
type Props = { sieve: Sieve; fixed: boolean; change: Change; onOpen: (why: string | undefined) => void };
type Send = (more: { constants?: Partial<Schema["ImportConstants"]>; source?: string; policies?: Partial<Schema["ImportPolicies"]> }) => void;

/** What holds for all rows: source, campaign, owner or team, consent, tags; and how known leads take new values. */
export function Terms({ sieve, fixed, change, onOpen }: Props) {
  const { constants, policies: policy, choices } = sieve;
  const send: Send = (more) =>
    change(() =>
      must(
        api.PUT("/api/imports/{id}/terms", {
          params: { path: { id: sieve.import.id } },
          body: { source: more.source ?? sieve.import.source, constants: { ...constants, ...more.constants }, policies: { ...policy, ...more.policies } },
        }),
      ),
    );
  return (
    <Stack $gap={3}>
      <Whence sieve={sieve} fixed={fixed} send={send} />
      <Receiver sieve={sieve} fixed={fixed} send={send} />
      <Ticks label="Tags" options={choices.tags} value={constants.tags ?? []} isDisabled={fixed} onChange={(tags) => send({ constants: { tags } })} />
      <TermsConsent key={JSON.stringify(constants.consent)} sieve={sieve} fixed={fixed} onOpen={onOpen} onChange={(consent) => send({ constants: { consent } })} />
      <ChoiceBox label="A lead we have takes new values" value={policy.all ?? "fillBlanks"} options={policies} isDisabled={fixed} onChange={(k) => send({ policies: { all: k as Policy } })} />
      <FieldPolicies sieve={sieve} fixed={fixed} send={send} />
    </Stack>
  );
}

type PartProps = { sieve: Sieve; fixed: boolean; send: Send };

function Whence({ sieve, fixed, send }: PartProps) {
  const { constants, choices } = sieve;
  const countsAs = choices.sources.find((s) => s.key === sieve.import.source)?.countsAs;
  return (
    <>
      <div>
        <ChoiceBox label="Where the list comes from" value={sieve.import.source || null} options={choices.sources} placeholder="say where, before it is taken in" isDisabled={fixed} onChange={(source) => send({ source })} />
        {countsAs !== undefined && <Hint>{countsAs ? `Each row counts as: ${countsAs}.` : "By itself it counts as nothing for engagement."}</Hint>}
      </div>
      <ChoiceBox label="Campaign" value={constants.campaign ?? none} isDisabled={fixed} options={[{ key: none, label: "the source's own" }, ...choices.campaigns]} onChange={(c) => send({ constants: { campaign: c === none ? null : c } })} />
      <ChoiceBox
        label="What they did about it, where the list does not say"
        value={constants.response ?? none}
        isDisabled={fixed}
        options={[{ key: none, label: "as usual for such a campaign" }, ...choices.responses]}
        onChange={(r) => send({ constants: { response: r === none ? null : r } })}
      />
    </>
  );
}

function Receiver({ sieve: { constants, choices }, fixed, send }: PartProps) {
  const given = constants.owner ? `owner:${constants.owner}` : constants.team ? `team:${constants.team}` : none;
  const after = (key: string, kind: string) => (key.startsWith(kind) ? key.slice(kind.length) : null);
  const teams = choices.teams.map((t) => ({ key: `team:${t.key}`, label: `${t.label}, in turn` }));
  const owners = choices.owners.map((o) => ({ key: `owner:${o.key}`, label: o.label }));
  return <ChoiceBox label="Who gets the new leads" value={given} isDisabled={fixed} options={[{ key: none, label: "by the rule sheet" }, ...teams, ...owners]} onChange={(key) => send({ constants: { owner: after(key, "owner:"), team: after(key, "team:") } })} />;
}

function FieldPolicies({ sieve, fixed, send }: PartProps) {
  const policy = sieve.policies;
  const matched = sieve.targets.filter((t) => sieve.matching.some((m) => m.target === t.key) && t.type);
  const asAll = { key: none, label: `as all: ${policies.find((p) => p.key === policy.all)?.label}` };
  const say = (field: string, k: string) => {
    const rest = Object.fromEntries(Object.entries(policy.fields ?? {}).filter(([key]) => key !== field)) as Record<string, NonNullable<Policy>>;
    send({ policies: { fields: k === none ? rest : { ...rest, [field]: k as NonNullable<Policy> } } });
  };
  return (
    <Others>
      <summary>Other policies, field by field</summary>
      {matched.map((t) => (
        <ChoiceBox key={t.key} label={t.label} value={policy.fields?.[t.key] ?? none} isDisabled={fixed} options={[asAll, ...policies]} onChange={(k) => say(t.key, k)} />
      ))}
    </Others>
  );
}
