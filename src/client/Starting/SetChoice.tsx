import { useState } from "react";
import { Radio, RadioGroup } from "react-aria-components";
import { Link } from "react-router";
import styled from "styled-components";
import { useAct } from "../common/acting";
import { Button } from "../parts/Button";
import { ChoiceBox } from "../parts/Field";
import { Row, Stack } from "../parts/Layout";
import { small } from "../parts/theme";
import { Hint, Text, Wrong } from "../parts/Words";
import { startActs, type Start } from "./queries";

type Offer = Start["sets"][number];

const Offers = styled(RadioGroup)`
  display: grid;
  gap: 12px;
`;

const One = styled(Radio)`
  display: block;
  padding: 12px 16px;
  border: 1px solid var(--hair);
  border-left: 3px solid var(--hair);
  border-radius: 3px;
  cursor: pointer;
  background: var(--paper);
  &[data-selected] {
    border-color: var(--slate);
  }
  &[data-focus-visible] {
    outline: 2px solid var(--slate);
    outline-offset: 2px;
  }
  strong {
    display: block;
    font: 600 17px/1.3 "Fraunces Variable", serif;
  }
  ul {
    margin: 6px 0 0;
    padding-left: 18px;
    ${small}
  }
`;

const made = "-";

/** One of the sets that ship, put in place with a press, and taken back while nothing was done with it. */
export function SetChoice({ start, onDone }: { start: Start; onDone: () => void }) {
  const there = start.steps.find((s) => s.key === "set")!.done;
  return there ? <InPlace start={start} /> : <Choosing start={start} onDone={onDone} />;
}

function InPlace({ start }: { start: Start }) {
  const act = useAct("here");
  const set = start.sets.find((s) => s.key === start.set);
  const back = () => void act.run(startActs.takeBack, { changes: ["start", "everything"], words: "The set is taken back; nothing of it is left." });
  return (
    <Stack $width={620}>
      <Text>
        {set ? <>“{set.name}” is in place.</> : "This company is set up already."} Change what you like: <Link to="/scoring">the scoring</Link>, <Link to="/routing">the rules</Link>, <Link to="/setup/pipelines">the pipelines</Link>,{" "}
        <Link to="/intake">the forms</Link>, <Link to="/setup/fields">the fields</Link>, <Link to="/setup/templates">the templates</Link>.
      </Text>
      {start.canTakeBack && (
        <Row>
          <Button onPress={back} isPending={act.busy}>
            Take it back, to choose another
          </Button>
        </Row>
      )}
      {act.any && <Wrong>{act.any}</Wrong>}
    </Stack>
  );
}

function Choosing({ start, onDone }: { start: Start; onDone: () => void }) {
  const act = useAct("here");
  const [key, setKey] = useState<string>();
  const [teams, setTeams] = useState<Record<string, string>>({});
  const set = start.sets.find((s) => s.key === key);
  const own = Object.fromEntries(Object.entries(teams).filter(([of, team]) => team !== made && set?.teams.some((t) => t.key === of)));
  const put = () => void act.run(() => startActs.put(key!, own), { changes: ["start", "everything"], words: `${set!.name}: it is in place.`, then: onDone });
  return (
    <Stack $gap={4} $width={620}>
      <Offers aria-label="You sell" value={key ?? null} onChange={setKey}>
        {start.sets.map((s) => (
          <Offered key={s.key} set={s} />
        ))}
      </Offers>
      {set && start.teams.length > 0 && <Teams set={set} start={start} teams={teams} onChange={setTeams} />}
      {start.people > 0 && start.workers === 0 && <Hint>Nobody you invited works leads yet. Reps and qualifiers join their team under Routing, or as you invite them.</Hint>}
      {act.any && <Wrong>{act.any}</Wrong>}
      <Row>
        <Button look="main" onPress={put} isPending={act.busy} isDisabled={!key}>
          Put it in place, and go on
        </Button>
      </Row>
    </Stack>
  );
}

function Offered({ set }: { set: Offer }) {
  return (
    <One value={set.key}>
      <strong>{set.name}</strong>
      {set.about}
      <ul>
        {set.holds.map((h) => (
          <li key={h}>{h}</li>
        ))}
      </ul>
    </One>
  );
}

/** Where the company has teams, the rules may give leads to those. */
function Teams({ set, start, teams, onChange }: { set: Offer; start: Start; teams: Record<string, string>; onChange: (teams: Record<string, string>) => void }) {
  return (
    <Stack>
      {set.teams.map((t) => (
        <ChoiceBox
          key={t.key}
          label={`Leads for “${t.label}” go to`}
          value={teams[t.key] ?? made}
          onChange={(team) => onChange({ ...teams, [t.key]: team })}
          options={[{ key: made, label: `a new team, ${t.label}, with everybody who works leads` }, ...start.teams]}
        />
      ))}
    </Stack>
  );
}
