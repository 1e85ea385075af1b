import styled from "styled-components";
import { api, must, type Schema } from "../../api/client";
import { Button } from "../../parts/Button";
import { count, moment } from "../../parts/format";
import { tell, tellError } from "../../parts/Toast";
import { small } from "../../parts/theme";
import { useMay, useRefresh, useSession } from "../../common/session";
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
  dt {
    color: var(--soft);
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
    <section aria-label="Waiting" style={{ marginBottom: 26 }}>
      <h2 style={{ marginBottom: 8 }}>{count(waiting.data.length, "arrival")} wait{waiting.data.length === 1 ? "s" : ""} for your word</h2>
      <ul style={{ listStyle: "none", padding: 0 }}>
        {waiting.data.map((a) => (
          <One key={a.id} arrival={a} />
        ))}
      </ul>
    </section>
  );
}

function One({ arrival }: { arrival: Schema["SingleArrivalView"] }) {
  const refresh = useRefresh();
  const { timeZone } = useSession();
  const may = useMay("runIntake");
  const params = { path: { id: arrival.id } };
  const act = async (call: Promise<unknown>, said: string, undo?: () => Promise<unknown>) => {
    try {
      await call;
      tell(said, undo);
    } catch (e) {
      tellError(e);
    }
    await refresh();
  };
  const back = () => act(must(api.POST("/api/arrivals/{id}/wait", { params })), "It waits again.");
  const points = arrival.reasons.reduce((sum, r) => sum + r.points, 0);
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
            <div key={p.name} style={{ display: "contents" }}>
              <dt>{p.name.replace("_", " ")}</dt>
              <dd style={{ margin: 0 }}>{p.value}</dd>
            </div>
          ))}
      </dl>
      <ul aria-label="Why it waits">
        {arrival.reasons.map((r) => (
          <li key={r.words}>
            {r.points > 0 && <span className="points">{r.points}</span>}
            {r.words}
          </li>
        ))}
        {points > 0 && <li style={{ color: "var(--soft)" }}>{points} in all; from 60 it waits.</li>}
      </ul>
      {may && (
        <div className="acts">
          <Button onPress={() => act(must(api.POST("/api/arrivals/{id}/take-in", { params })), "Taken in, scored and routed.")}>Take in</Button>
          <Button look="quiet" onPress={() => act(must(api.POST("/api/arrivals/{id}/set-aside", { params })), "Set aside. It stays as it came.", back)}>
            Set aside
          </Button>
        </div>
      )}
    </Item>
  );
}
