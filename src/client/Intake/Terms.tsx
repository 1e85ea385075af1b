import { useEffect, useState } from "react";
import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { Button } from "../parts/Button";
import { ChoiceBox, TextBox } from "../parts/Field";
import { DayBox } from "../parts/DayBox";
import { small } from "../parts/theme";
import { Ticks } from "../parts/Ticks";
import type { Change } from "./queries";

const Stack = styled.div`
  display: grid;
  gap: 10px;
  fieldset {
    border: 0;
    padding: 0;
    margin: 0;
    display: grid;
    gap: 8px;
  }
`;

const none = "–";
const Counts = styled.p`
  ${small}
`;

const policies = [
  { key: "fillBlanks", label: "fill blanks only" },
  { key: "keepOurs", label: "keep ours" },
  { key: "takeTheirs", label: "take theirs" },
  { key: "newestWins", label: "newest wins" },
];

type Policy = Schema["ImportPolicies"]["all"];
type Props = { sieve: Schema["SieveView"]; fixed: boolean; change: Change; onOpen: (why: string | undefined) => void };

/** What holds for all rows: source, campaign, owner or team, consent, tags; and how known leads take new values. */
export function Terms({ sieve, fixed, change, onOpen }: Props) {
  const { constants, policies: policy, choices } = sieve;
  const send = (more: Partial<Schema["ImportConstants"]>, source = sieve.import.source, by: Partial<Schema["ImportPolicies"]> = {}) =>
    change(() => must(api.PUT("/api/imports/{id}/terms", { params: { path: { id: sieve.import.id } }, body: { source, constants: { ...constants, ...more }, policies: { ...policy, ...by } } })));
  const given = constants.owner ? `owner:${constants.owner}` : constants.team ? `team:${constants.team}` : none;
  const give = (key: string) => send({ owner: key.startsWith("owner:") ? key.slice(6) : null, team: key.startsWith("team:") ? key.slice(5) : null });
  const tags = constants.tags ?? [];
  const countsAs = choices.sources.find((s) => s.key === sieve.import.source)?.countsAs;
  const matched = sieve.targets.filter((t) => sieve.matching.some((m) => m.target === t.key) && t.type);
  return (
    <Stack>
      <div>
        <ChoiceBox label="Where the list comes from" value={sieve.import.source || null} options={choices.sources} placeholder="say where, before it is taken in" isDisabled={fixed} onChange={(s) => send({}, s)} />
        {countsAs !== undefined && <Counts>{countsAs ? `Each row counts as: ${countsAs}.` : "By itself it counts as nothing for engagement."}</Counts>}
      </div>
      <ChoiceBox label="Campaign" value={constants.campaign ?? none} isDisabled={fixed} options={[{ key: none, label: "the source's own" }, ...choices.campaigns]} onChange={(c) => send({ campaign: c === none ? null : c })} />
      <ChoiceBox
        label="What they did about it, where the list does not say"
        value={constants.response ?? none}
        isDisabled={fixed}
        options={[{ key: none, label: "as usual for such a campaign" }, ...choices.responses]}
        onChange={(r) => send({ response: r === none ? null : r })}
      />
      <ChoiceBox
        label="Who gets the new leads"
        value={given}
        isDisabled={fixed}
        options={[{ key: none, label: "by the rule sheet" }, ...choices.teams.map((t) => ({ key: `team:${t.key}`, label: `${t.label}, in turn` })), ...choices.owners.map((o) => ({ key: `owner:${o.key}`, label: o.label }))]}
        onChange={give}
      />
      <Ticks label="Tags" options={choices.tags} value={tags} isDisabled={fixed} onChange={(keys) => send({ tags: keys })} />
      <Consent key={JSON.stringify(constants.consent)} sieve={sieve} fixed={fixed} onOpen={onOpen} onChange={(consent) => send({ consent })} />
      <ChoiceBox label="A lead we have takes new values" value={policy.all ?? "fillBlanks"} options={policies} isDisabled={fixed} onChange={(k) => send({}, undefined, { all: k as Policy })} />
      <details>
        <summary>Other policies, field by field</summary>
        {matched.map((t) => (
          <ChoiceBox
            key={t.key}
            label={t.label}
            value={policy.fields?.[t.key] ?? none}
            isDisabled={fixed}
            options={[{ key: none, label: `as all: ${policies.find((p) => p.key === policy.all)?.label}` }, ...policies]}
            onChange={(k) => {
              const rest = Object.fromEntries(Object.entries(policy.fields ?? {}).filter(([key]) => key !== t.key)) as Record<string, NonNullable<Policy>>;
              send({}, undefined, { fields: k === none ? rest : { ...rest, [t.key]: k as NonNullable<Policy> } });
            }}
          />
        ))}
      </details>
    </Stack>
  );
}

function Consent({ sieve, fixed, onOpen, onChange }: { sieve: Schema["SieveView"]; fixed: boolean; onOpen: (why: string | undefined) => void; onChange: (consent: Schema["ConsentGiven"] | null) => void }) {
  const now = sieve.constants.consent;
  const [purpose, setPurpose] = useState(now?.purpose ?? none);
  const [wording, setWording] = useState(now?.wording ?? "");
  const [on, setOn] = useState((now?.at ?? sieve.import.createdAt).slice(0, 10));
  const changed = purpose !== (now?.purpose ?? none) || (purpose !== none && (wording !== (now?.wording ?? "") || on !== now?.at.slice(0, 10)));
  // What is typed and not kept must not be passed over when the list is taken in.
  useEffect(() => onOpen(changed ? "The consent you wrote is not kept yet: keep it, or set it back, before you take the list in." : undefined), [changed, onOpen]);
  useEffect(() => () => onOpen(undefined), [onOpen]);
  const ready = purpose === none || (wording.trim().length > 0 && !!on);
  return (
    <fieldset disabled={fixed}>
      <ChoiceBox label="What the people agreed to" value={purpose} isDisabled={fixed} options={[{ key: none, label: "nothing is known of it" }, ...sieve.choices.purposes]} onChange={setPurpose} />
      {purpose !== none && (
        <>
          <TextBox label="In these words" value={wording} onChange={setWording} lines isDisabled={fixed} />
          <DayBox label="On" value={on} onChange={setOn} isDisabled={fixed} />
        </>
      )}
      {changed && (
        <Button isDisabled={!ready || fixed} onPress={() => onChange(purpose === none ? null : { purpose, wording: wording.trim(), at: `${on}T00:00:00Z` })}>
          Keep this consent
        </Button>
      )}
    </fieldset>
  );
}
