import styled from "styled-components";
import { api, must, type Schema } from "../../api/client";
import { Button } from "../../parts/Button";
import { count, moment } from "../../parts/format";
import { small } from "../../parts/theme";
import { useAct } from "../../common/acting";
import { useMay, useSession } from "../../common/session";
import { Block, Plain } from "../../parts/Layout";
import { Quiet, Title } from "../../parts/Words";
import { useWaiting } from "./queries";

const Item = styled.li`
  border-left: 3px solid var(--lamp);
  background: var(--sheet);
  padding: 10px 14px 12px;
  margin-bottom: 10px;
  .from {
    ${small}
    display: flex;
    justify-content: space-between;
    gap: 12px;
  }
  dl {
    display: grid;
    grid-template-columns: max-content 1fr;
    gap: 1px 12px;
    font-size: 14px;
    margin: 6px 0;
    overflow-wrap: anywhere;
  }
  dl > div {
    display: contents;
  }
  dt {
    color: var(--soft);
  }
  dd {
    margin: 0;
  }
  ul {
    list-style: none;
    padding: 0;
    font-size: 14px;
    margin-bottom: 8px;
  }
  .points {
    display: inline-block;
    min-width: 30px;
    font-weight: 600;
  }
  .acts {
    display: flex;
    gap: 8px;
  }
`;

/** Posts that look like spam or are barred: with every reason, to be decided by a person. Nothing when none waits. */
export function Waiting({ form }: { form?: string }) {
  const waiting = useWaiting(form);
  if (!waiting.data?.length) return null;
  return (
    <Block as="section" aria-label="Waiting" $below={6}>
      <Title $below={2}>
        {count(waiting.data.length, "arrival")} wait{waiting.data.length === 1 ? "s" : ""} for your word
      </Title>
      <Plain>
        {waiting.data.map((a) => (
          <One key={a.id} arrival={a} />
        ))}
      </Plain>
    </Block>
  );
}

type Arrival = Schema["SingleArrivalView"];

function One({ arrival }: { arrival: Arrival }) {
  const { timeZone } = useSession();
  const may = useMay("runIntake");
  return (
    <Item>
      <p className="from">
        <span>{arrival.sourceName}</span>
        <span>{moment(arrival.at, timeZone)}</span>
      </p>
      <dl>
        {arrival.parts
          .filter((p) => !p.name.startsWith("_"))
          .map((p) => (
            <div key={p.name}>
              <dt>{p.name.replace("_", " ")}</dt>
              <dd>{p.value}</dd>
            </div>
          ))}
      </dl>
      <Reasons arrival={arrival} />
      {may && <Acts arrival={arrival} />}
    </Item>
  );
}

function Reasons({ arrival }: { arrival: Arrival }) {
  const points = arrival.reasons.reduce((sum, r) => sum + r.points, 0);
  return (
    <ul aria-label="Why it waits">
      {arrival.reasons.map((r) => (
        <li key={r.words}>
          {r.points > 0 && <span className="points">{r.points}</span>}
          {r.words}
        </li>
      ))}
      {points > 0 && (
        <li>
          <Quiet>{points} in all; from 60 it waits.</Quiet>
        </li>
      )}
    </ul>
  );
}

function Acts({ arrival }: { arrival: Arrival }) {
  const act = useAct();
  const params = { path: { id: arrival.id } };
  const take = () => void act.run(() => must(api.POST("/api/arrivals/{id}/take-in", { params })), { changes: ["arrivals", "lead"], words: "Taken in, scored and routed." });
  const aside = () =>
    void act.run(() => must(api.POST("/api/arrivals/{id}/set-aside", { params })), {
      changes: ["arrivals"],
      words: "Set aside. It stays as it came.",
      back: () => must(api.POST("/api/arrivals/{id}/wait", { params })),
      backWords: () => "It waits again.",
    });
  return (
    <div className="acts">
      <Button isPending={act.busy} onPress={take}>
        Take in
      </Button>
      <Button look="quiet" isPending={act.busy} onPress={aside}>
        Set aside
      </Button>
    </div>
  );
}
