import { useEffect, useState, type ReactNode } from "react";
import type { ApiError } from "../../api/client";
import { offered, useFields } from "../../common/fields";
import { usePeople } from "../../common/people";
import { usePipelines } from "../../common/pipelines";
import { useSession } from "../../common/session";
import { DayBox } from "../../parts/DayBox";
import { inDays } from "../../parts/days";
import { ChoiceBox, TextBox } from "../../parts/Field";
import { Stack } from "../../parts/Layout";
import { Ticks } from "../../parts/Ticks";
import { Hint, Text } from "../../parts/Words";
import { morningOf } from "../../parts/zones";
import type { Act, Kind } from "./titles";

type Props = { kind: Kind; error?: ApiError; onChange: (act: Act | null) => void };
type Asked = Omit<Props, "kind">;

const swap: Act = { kind: "give", swap: true };
const remove: Act = { kind: "remove" };

const keyed = (kind: "tag" | "untag" | "campaign") =>
  function AskOne({ error, onChange }: Asked) {
    const choices = offered(useFields().data?.find((f) => f.key === (kind === "campaign" ? "campaign" : "tag")));
    return <AskKey label={kind === "campaign" ? "Campaign" : "Tag"} options={choices} error={error?.message} onChange={(key) => onChange({ kind, key })} />;
  };

const asks: Record<Kind, (props: Asked) => ReactNode> = {
  fact: AskFact,
  state: AskState,
  hand_over: AskPipeline,
  tag: keyed("tag"),
  untag: keyed("untag"),
  campaign: keyed("campaign"),
  give: ({ onChange }) => <AskPeople onChange={onChange} />,
  onward: ({ onChange }) => (
    <>
      <Text>All of theirs that are new, in work, on hold or qualified.</Text>
      <AskPeople onward onChange={onChange} />
    </>
  ),
  swap: ({ onChange }) => <AskNothing act={swap} words="Each goes to whom the other is with now, with its open tasks; the time to answer begins anew." onChange={onChange} />,
  remove: ({ onChange }) => (
    <AskNothing act={remove} words="They leave every list and count, with their story, tasks and meetings, and are kept so that they can be put back under “Done lately”. Consents that were withdrawn hold." onChange={onChange} />
  ),
};

/** What a kind of change needs to be said: which fact, to whom, until when. */
export function BulkAsk({ kind, ...asked }: Props) {
  const Ask = asks[kind];
  return <Ask {...asked} />;
}

// Nothing is to be chosen: what it would do is shown at once.
function AskNothing({ act, words, onChange }: { act: Act; words: string; onChange: (act: Act) => void }) {
  useEffect(() => {
    onChange(act);
    // Asked once, when the form opens.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  return <Text>{words}</Text>;
}

function AskPipeline({ error, onChange }: Asked) {
  const pipelines = usePipelines().data ?? [];
  return (
    <>
      <AskKey label="Pipeline" options={pipelines.map((p) => ({ key: p.key, label: p.name }))} error={error?.message} onChange={(key) => onChange({ kind: "hand_over", key })} />
      <Hint>Each as its own sheet proposes: to the account and contact that are the same beyond doubt, else to new ones; the amount is said on the deal.</Hint>
    </>
  );
}

function AskKey({ label, options, error, onChange }: { label: string; options: { key: string; label: string }[]; error?: string; onChange: (key: string) => void }) {
  const [chosen, setChosen] = useState<string | null>(null);
  return <ChoiceBox label={label} value={chosen} options={options} error={error} onChange={(key) => (setChosen(key), onChange(key))} />;
}

function AskFact({ error, onChange }: Asked) {
  const fields = (useFields().data ?? []).filter((f) => (f.origin === "fact" || f.origin === "custom") && !f.many);
  const [key, setKey] = useState<string | null>(null);
  const [value, setValue] = useState<string | null>(null);
  const field = fields.find((f) => f.key === key);
  const put = (next: string) => {
    setValue(next);
    onChange({ kind: "fact", field: key, value: next });
  };
  const words = error?.field === "value" ? error.message : undefined;
  const box = field && { label: field.label, value: value ?? "", error: words, onChange: put };
  return (
    <Stack>
      <ChoiceBox label="Which fact" value={key} options={fields} onChange={(k) => (setKey(k), setValue(null), onChange(null))} />
      {field && box && field.choices.length > 0 && <ChoiceBox {...box} value={value} options={[{ key: "", label: "blank" }, ...offered(field)]} />}
      {field && box && field.choices.length === 0 && (field.type === "date" ? <DayBox {...box} hint="Nothing here empties the fact." /> : <TextBox {...box} hint="Nothing here empties the fact." />)}
    </Stack>
  );
}

function AskState({ error, onChange }: Asked) {
  const { timeZone } = useSession();
  const fields = useFields().data ?? [];
  const choices = (key: string) => offered(fields.find((f) => f.key === key));
  const [state, setState] = useState<string | null>(null);
  const [reason, setReason] = useState<string | null>(null);
  const [wakes, setWakes] = useState(inDays(30, timeZone));
  const say = (to: string, why: string | null, until: string) => {
    if (to === "on_hold") return onChange(until ? { kind: "state", state: to, wakeAt: morningOf(until, timeZone) } : null);
    if (to === "disqualified") return onChange(why ? { kind: "state", state: to, reason: why } : null);
    onChange({ kind: "state", state: to });
  };
  const said = (field: string) => (error?.field === field ? error.message : undefined);
  return (
    <Stack>
      <ChoiceBox label="New state" value={state} options={choices("state").filter((c) => c.key !== "handed_over")} error={said("state")} onChange={(to) => (setState(to), say(to, reason, wakes))} />
      {state === "on_hold" && <DayBox label="Wakes on" value={wakes} error={said("wakeAt")} onChange={(until) => (setWakes(until), say(state, reason, until))} />}
      {state === "disqualified" && <ChoiceBox label="Why" value={reason} options={choices("state_reason")} onChange={(why) => (setReason(why), say(state, why, wakes))} />}
    </Stack>
  );
}

const ways = [
  { key: "rules", label: "whom the rule sheet says" },
  { key: "people", label: "these people, in turn" },
  { key: "none", label: "nobody: back to wait for an owner" },
];

function AskPeople({ onward = false, onChange }: { onward?: boolean; onChange: (act: Act | null) => void }) {
  const people = usePeople().data ?? [];
  const [how, setHow] = useState<string | null>(onward ? "rules" : null);
  const [to, setTo] = useState<string[]>([]);
  const say = (next: string | null, chosen: string[]) => onChange(next === "none" ? { kind: "give", to: [] } : next === "rules" ? { kind: "give", to: [], byRules: true, onward } : chosen.length > 0 ? { kind: "give", to: chosen } : null);
  useEffect(() => {
    if (onward) say("rules", []);
    // Said once, when the form opens.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  return (
    <Stack>
      <ChoiceBox label="To whom" value={how} options={ways} onChange={(next) => (setHow(next), say(next, to))} />
      {how === "people" && <Ticks label="People" options={people.map((p) => ({ key: p.id, label: p.away ? `${p.name} (away)` : p.name }))} value={to} onChange={(next) => (setTo(next), say(how, next))} />}
    </Stack>
  );
}
