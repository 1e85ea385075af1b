import styled from "styled-components";
import { Button } from "../parts/Button";
import { TextBox } from "../parts/Field";
import { Row, Stack } from "../parts/Layout";
import { Ticks } from "../parts/Ticks";
import { Hint, Wrong } from "../parts/Words";
import type { Provider } from "./queries";

type Map = { value: string; roles: string[]; teams: string[] };
type Props = { maps: Map[]; onChange: (maps: Map[]) => void; provider: Provider; error?: string };

const Group = styled.fieldset`
  border: 0;
  border-bottom: 1px solid var(--hair);
  margin: 0;
  padding: 0 0 10px;
  min-width: 0;
  display: grid;
  grid-template-columns: minmax(0, 200px) minmax(0, 1fr) auto;
  gap: 6px 20px;
  align-items: start;
  button {
    margin-top: 22px;
  }
  @media (max-width: 767px) {
    grid-template-columns: minmax(0, 1fr);
    button {
      margin-top: 0;
      justify-self: start;
    }
  }
`;

/** Each group with the roles and teams it means. */
export function ProviderMaps({ maps, onChange, provider, error }: Props) {
  const change = (at: number, more: Partial<Map>) => onChange(maps.map((m, i) => (i === at ? { ...m, ...more } : m)));
  const add = (value: string) => onChange([...maps, { value, roles: [], teams: [] }]);
  const unmeant = provider.values.filter((v) => !maps.some((m) => m.value.trim() === v));
  return (
    <Stack $gap={3}>
      {maps.map((m, i) => (
        <Group key={i} aria-label={m.value ? `Group ${m.value}` : `Group ${i + 1}`}>
          <TextBox label="Group" value={m.value} onChange={(value) => change(i, { value })} />
          <div>
            <Ticks label="is" options={provider.roles} value={m.roles} onChange={(roles) => change(i, { roles })} />
            {provider.teams.length > 0 && <Ticks label="in the teams" options={provider.teams} value={m.teams} onChange={(teams) => change(i, { teams })} />}
          </div>
          <Button look="quiet" aria-label={`Take away ${m.value || "the group"}`} onPress={() => onChange(maps.filter((_, at) => at !== i))}>
            Take away
          </Button>
        </Group>
      ))}
      {error && <Wrong>{error}</Wrong>}
      <Row>
        <Button onPress={() => add("")}>Another group</Button>
      </Row>
      {unmeant.length > 0 && (
        <Hint>
          It also sent:{" "}
          {unmeant.slice(0, 20).map((v) => (
            <Button key={v} look="inline" aria-label={`${v}: say what it means`} onPress={() => add(v)}>
              {v}
            </Button>
          ))}
        </Hint>
      )}
    </Stack>
  );
}
