import { ChoiceBox, TextBox } from "../parts/Field";
import { Stack } from "../parts/Layout";
import { Tick, Ticks } from "../parts/Ticks";
import { goalBy, goalWords, wayOf, type Goal, type Names, type Way } from "./sheet";

const ways: { key: Way; label: string }[] = [
  { key: "person", label: "A person" },
  { key: "team", label: "A team, in turn" },
  { key: "serving", label: "Everyone who serves the country, in turn" },
  { key: "keep", label: "Whoever has it" },
  { key: "hold", label: "The Desk, with a reason" },
];

type Props = { to: Goal; names: Names; onChange?: (to: Goal) => void };

/** Who gets what a rule takes, and who else where nobody of these can. */
export function GoalEditor({ to, names, onChange }: Props) {
  if (!onChange) return <p>{goalWords(to, names)}</p>;
  const way = wayOf(to);
  const inTurn = way === "team" || way === "serving" || way === "person";
  return (
    <Stack $gap={2}>
      <Way label="Who" to={to} names={names} onChange={onChange} />
      {inTurn && (
        <>
          <Tick value={!!to.speaking} onChange={(speaking) => onChange({ ...to, speaking })}>
            Whoever takes it speaks the lead's language
          </Tick>
          {names.skills.length > 0 && <Ticks label="has the skills" options={names.skills.map((s) => ({ key: s.key, label: s.name }))} value={[...(to.skills ?? [])]} onChange={(skills) => onChange({ ...to, skills })} />}
          <Tick value={!!to.else} onChange={(other) => onChange({ ...to, else: other ? goalBy("team", names, { hold: "" }) : null })}>
            Where nobody can, somebody else gets it, not the Desk
          </Tick>
          {to.else && <Way label="Who else" to={to.else} names={names} onChange={(other) => onChange({ ...to, else: other })} />}
        </>
      )}
    </Stack>
  );
}

function Way({ label, to, names, onChange }: { label: string; to: Goal; names: Names; onChange: (to: Goal) => void }) {
  const way = wayOf(to);
  const listed = way === "person" ? names.persons : names.teams;
  const key = way === "person" ? (to.person ?? "") : (to.team ?? "");
  return (
    <>
      <ChoiceBox label={label} value={way} options={ways} onChange={(next) => next !== way && onChange(goalBy(next as Way, names, to))} />
      {(way === "person" || way === "team") && (
        <ChoiceBox
          label={`${label}: ${way === "person" ? "person" : "team"}`}
          value={key}
          options={[...listed.map((n) => ({ key: n.key, label: n.name })), ...(listed.some((n) => n.key === key) ? [] : [{ key, label: `${key}, who is gone` }])]}
          onChange={(next) => onChange(way === "person" ? { ...to, person: next } : { ...to, team: next })}
        />
      )}
      {way === "hold" && <TextBox label="Reason" value={to.hold ?? ""} onChange={(hold) => onChange({ ...to, hold })} />}
    </>
  );
}
