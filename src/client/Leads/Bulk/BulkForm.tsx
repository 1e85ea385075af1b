import { useEffect, useState, type ReactNode } from "react";
import { inDays } from "../../parts/days";
import { useSession } from "../../Setup/session";
import { morningOf } from "../Activities/queries";
import styled from "styled-components";
import { ApiError } from "../../api/client";
import { Button } from "../../parts/Button";
import { Overlay } from "../../parts/Dialog";
import { DayBox } from "../../parts/DayBox";
import { ChoiceBox, TextBox } from "../../parts/Field";
import { count, whole } from "../../parts/format";
import { Ticks } from "../../parts/Ticks";
import { useSettled } from "../../parts/useSettled";
import { tellError } from "../../parts/Toast";
import { small } from "../../parts/theme";
import { usePeople } from "../queries";
import { useFields } from "../../Conditions/useFields";
import { states } from "../words";
import { order, usePipelines, usePreview, type Order } from "./queries";

export type Kind = "fact" | "tag" | "untag" | "give" | "onward" | "swap" | "state" | "campaign" | "remove" | "hand_over";
type Act = Order["act"];

const titles: Record<Kind, string> = {
  fact: "Change a fact",
  tag: "Put a tag on",
  untag: "Take a tag off",
  give: "Give",
  onward: "Hand on",
  swap: "Exchange owners",
  state: "Change the state",
  campaign: "Add to a campaign",
  remove: "Remove",
  hand_over: "Hand over",
};

const Stack = styled.div`
  display: grid;
  gap: 14px;
`;

const What = styled.section`
  border-top: 1px solid var(--hair);
  padding-top: 12px;
  min-height: 150px;
  font-size: 14px;
  p + p {
    margin-top: 4px;
  }
  ul {
    list-style: none;
    padding: 0;
    margin: 8px 0 0;
  }
  li {
    display: grid;
    grid-template-columns: minmax(0, 1.2fr) minmax(0, 1fr) 18px minmax(0, 1fr);
    gap: 8px;
    padding: 3px 0;
    border-bottom: 1px solid var(--hair);
  }
  li > span {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  small {
    ${small}
  }
`;

type Props = { kind: Kind; which: Omit<Order, "act">; onClose: () => void; onOrdered: (id: string) => void };

/** Says what is to be done, shows what it would change, and orders it. */
export function BulkForm({ kind, which, onClose, onOrdered }: Props) {
  const [act, setAct] = useState<Act | null>(null);
  const [sending, setSending] = useState(false);
  // The same press twice is the same order.
  const [key] = useState(() => crypto.randomUUID());
  // Typing asks the server when it pauses.
  const settled = useSettled(act, 250);
  const asked = settled ? { ...which, act: settled } : null;
  const preview = usePreview(asked);
  const current = settled === act ? preview.data : undefined;
  const trouble = settled === act && preview.error instanceof ApiError ? preview.error : undefined;
  const send = async () => {
    setSending(true);
    try {
      const edit = await order(asked!, key);
      onOrdered(edit.id);
      onClose();
    } catch (e) {
      setSending(false);
      tellError(e);
    }
  };
  const more = current && current.leads > current.looked;
  return (
    <Overlay title={titles[kind]} isOpen onClose={onClose} width={600}>
      <Stack as="form" onSubmit={(e: React.FormEvent) => (e.preventDefault(), current && current.changed > 0 && !sending && void send())}>
        <Ask kind={kind} error={trouble} onChange={setAct} />
        <What aria-live="polite" aria-label="What it would do">
          {!act && <small>Choose, and what would change is shown here.</small>}
          {act && !current && !trouble && <small>looking …</small>}
          {trouble && !trouble.field && <p>{trouble.message}</p>}
          {current && <Outcome preview={current} would={kind === "remove" ? "be removed" : kind === "hand_over" ? "be handed over" : "change"} />}
        </What>
        <div style={{ display: "flex", gap: 12 }}>
          <Button type="submit" look="main" isDisabled={!current || current.changed === 0} isPending={sending}>
            {!current || current.changed === 0 ? titles[kind] : more ? `${titles[kind]}: ${whole(current.leads)} leads` : `${titles[kind]}: ${count(current.changed, "lead")}`}
          </Button>
          <Button onPress={onClose}>Leave it</Button>
        </div>
      </Stack>
    </Overlay>
  );
}

function Outcome({ preview, would }: { preview: NonNullable<ReturnType<typeof usePreview>["data"]>; would: string }) {
  const { changed, same, left, samples, looked, leads } = preview;
  return (
    <>
      <p>
        {looked < leads && <>Of the first {whole(looked)} of {whole(leads)}: </>}
        <b>{count(changed, "lead")}</b> would {would}
        {same > 0 && `, ${whole(same)} ${same === 1 ? "is" : "are"} so already`}.
      </p>
      {left.map((l) => (
        <p key={l.why}>
          {count(l.leads, "lead")} left as {l.leads === 1 ? "it is" : "they are"}: {l.why}
          {l.why.endsWith(".") ? "" : "."}
        </p>
      ))}
      {samples.some((s) => s.after) && (
        <ul>
          {samples.map((s) => (
            <li key={s.number}>
              <span>
                {s.number} {s.name}
              </span>
              <span>{s.before}</span>
              <span aria-label="becomes">→</span>
              <span>
                <b>{s.after}</b>
              </span>
            </li>
          ))}
        </ul>
      )}
    </>
  );
}

type AskProps = { kind: Kind; error?: ApiError; onChange: (act: Act | null) => void };

function Ask({ kind, error, onChange }: AskProps): ReactNode {
  const fields = useFields().data ?? [];
  const people = usePeople().data ?? [];
  switch (kind) {
    case "fact":
      return <AskFact error={error} onChange={onChange} />;
    case "state":
      return <AskState error={error} onChange={onChange} />;
    case "hand_over":
      return <AskPipeline error={error?.message} onChange={(key) => onChange({ kind, key })} />;
    case "remove":
      return <AskNothing act={{ kind }} words="They leave every list and count, with their story, tasks and meetings, and are kept so that they can be put back under “Done lately”. Consents that were withdrawn hold." onChange={onChange} />;
    case "give":
      return <AskPeople people={people} onChange={onChange} />;
    case "onward":
      return (
        <>
          <p style={{ fontSize: 14 }}>All of theirs that are new, in work, on hold or qualified.</p>
          <AskPeople people={people} onward onChange={onChange} />
        </>
      );
    case "swap":
      return <AskNothing act={{ kind: "give", swap: true }} words="Each goes to whom the other is with now, with its open tasks; the time to answer begins anew." onChange={onChange} />;
    default: {
      const choices = fields.find((f) => f.key === (kind === "campaign" ? "campaign" : "tag"))?.choices ?? [];
      return <AskKey label={kind === "campaign" ? "Campaign" : "Tag"} options={choices} error={error?.message} onChange={(chosen) => onChange({ kind, key: chosen })} />;
    }
  }
}

// Nothing is to be chosen: what it would do is shown at once.
function AskNothing({ act, words, onChange }: { act: Act; words: string; onChange: (act: Act) => void }) {
  useEffect(() => {
    onChange(act);
    // Asked once, when the form opens.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  return <p style={{ fontSize: 14 }}>{words}</p>;
}

function AskPipeline({ error, onChange }: { error?: string; onChange: (key: string) => void }) {
  const pipelines = usePipelines().data ?? [];
  return (
    <>
      <AskKey label="Pipeline" options={pipelines.map((p) => ({ key: p.key, label: p.name }))} error={error} onChange={onChange} />
      <p style={{ fontSize: 13, color: "var(--soft)" }}>Each as its own sheet proposes: to the account and contact that are the same beyond doubt, else to new ones; the amount is said on the deal.</p>
    </>
  );
}

function AskKey({ label, options, error, onChange }: { label: string; options: { key: string; label: string }[]; error?: string; onChange: (key: string) => void }) {
  const [chosen, setChosen] = useState<string | null>(null);
  return <ChoiceBox label={label} value={chosen} options={options} error={error} onChange={(key) => (setChosen(key), onChange(key))} />;
}

function AskFact({ error, onChange }: Omit<AskProps, "kind">) {
  const fields = (useFields().data ?? []).filter((f) => (f.origin === "fact" || f.origin === "custom") && !f.many);
  const [key, setKey] = useState<string | null>(null);
  const [value, setValue] = useState<string | null>(null);
  const field = fields.find((f) => f.key === key);
  const put = (next: string) => {
    setValue(next);
    onChange({ kind: "fact", field: key, value: next });
  };
  const words = error?.field === "value" ? error.message : undefined;
  return (
    <Stack>
      <ChoiceBox label="Which fact" value={key} options={fields} onChange={(k) => (setKey(k), setValue(null), onChange(null))} />
      {field &&
        (field.choices.length > 0 ? (
          <ChoiceBox label={field.label} value={value} options={[{ key: "", label: "blank" }, ...field.choices]} error={words} onChange={put} />
        ) : field.type === "date" ? (
          <DayBox label={field.label} hint="Nothing here empties the fact." value={value ?? ""} error={words} onChange={put} />
        ) : (
          <TextBox label={field.label} hint="Nothing here empties the fact." value={value ?? ""} error={words} onChange={put} />
        ))}
    </Stack>
  );
}

function AskState({ error, onChange }: Omit<AskProps, "kind">) {
  const { timeZone } = useSession();
  const reasons = (useFields().data ?? []).find((f) => f.key === "state_reason")?.choices ?? [];
  const [state, setState] = useState<string | null>(null);
  const [reason, setReason] = useState<string | null>(null);
  const [wakes, setWakes] = useState(inDays(30, timeZone));
  const say = (to: string, why: string | null, until: string) => {
    if (to === "on_hold") return onChange(until ? { kind: "state", state: to, wakeAt: morningOf(until, timeZone) } : null);
    if (to === "disqualified") return onChange(why ? { kind: "state", state: to, reason: why } : null);
    onChange({ kind: "state", state: to });
  };
  const options = Object.entries(states)
    .filter(([key]) => key !== "handed_over")
    .map(([key, label]) => ({ key, label }));
  return (
    <Stack>
      <ChoiceBox label="New state" value={state} options={options} error={error?.field === "state" ? error.message : undefined} onChange={(to) => (setState(to), say(to, reason, wakes))} />
      {state === "on_hold" && <DayBox label="Wakes on" value={wakes} error={error?.field === "wakeAt" ? error.message : undefined} onChange={(until) => (setWakes(until), say(state, reason, until))} />}
      {state === "disqualified" && <ChoiceBox label="Why" value={reason} options={reasons} onChange={(why) => (setReason(why), say(state, why, wakes))} />}
    </Stack>
  );
}

type People = { people: { id: string; name: string; away: boolean }[]; onward?: boolean; onChange: (act: Act | null) => void };

function AskPeople({ people, onward = false, onChange }: People) {
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
      <ChoiceBox
        label="To whom"
        value={how}
        options={[
          { key: "rules", label: "whom the rule sheet says" },
          { key: "people", label: "these people, in turn" },
          { key: "none", label: "nobody: back to wait for an owner" },
        ]}
        onChange={(next) => (setHow(next), say(next, to))}
      />
      {how === "people" && <Ticks label="People" options={people.map((p) => ({ key: p.id, label: p.away ? `${p.name} (away)` : p.name }))} value={to} onChange={(next) => (setTo(next), say(how, next))} />}
    </Stack>
  );
}
