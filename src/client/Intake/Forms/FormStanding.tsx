import styled from "styled-components";
import { api, must, type Schema } from "../../api/client";
import { useAct } from "../../common/acting";
import { useMay, useSession } from "../../common/session";
import { Cap } from "../../parts/Bench";
import { Button } from "../../parts/Button";
import { moment } from "../../parts/format";
import { Row } from "../../parts/Layout";
import { small } from "../../parts/theme";
import { FormPlaces } from "./FormPlaces";
import { FormSettings } from "./FormSettings";

const Stack = styled.div`
  padding: 20px 18px 32px;
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 12px;
  h2 {
    margin-top: 12px;
  }
  ul {
    padding-left: 18px;
    font-size: 14px;
  }
  .state {
    font-size: 18px;
  }
  .edition {
    display: flex;
    justify-content: space-between;
    align-items: baseline;
    font-size: 14px;
  }
  .ready {
    color: var(--bad);
  }
  summary {
    ${small}
    cursor: pointer;
    min-height: 24px;
  }
`;

const states: Record<string, string> = { draft: "Not published yet", live: "Live", paused: "Closed for now" };

type View = Schema["FormView"];
type Props = { form: View; problems: Schema["DraftProblem"][]; state: string; onTaken: (form: View) => void };

/** Whether visitors see it, what they would see after publishing, its address and snippets, and the editions before. */
export function FormStanding({ form, problems, state, onTaken }: Props) {
  const may = useMay("runIntake");
  const { timeZone } = useSession();
  const live = form.editions.find((e) => e.live);
  return (
    <Stack>
      <div>
        <strong className="state">{states[form.state]}</strong>
        <Cap>
          {live ? `edition ${live.number}, ${moment(live.publishedAt, timeZone)}` : "Visitors get it once you publish."}
          {form.ahead && " · your draft says something else"}
        </Cap>
      </div>
      {state === "stale" && <p role="alert">Somebody else changed this draft. Reload to see theirs; yours is not kept.</p>}
      {problems.length > 0 && (
        <ul aria-label="To be put right" className="ready">
          {problems.map((p) => (
            <li key={p.path + p.sentence}>{p.sentence}</li>
          ))}
        </ul>
      )}
      {may && <Publishing form={form} isReady={problems.length === 0 && state === "kept"} onTaken={onTaken} />}
      <Cap role="status">{state === "keeping" ? "keeping …" : "all kept"}</Cap>
      {form.state !== "draft" && <FormPlaces form={form} />}
      <h2>What a post counts as</h2>
      <FormSettings form={form} may={may} />
      {form.editions.length > 1 && <Editions form={form} may={may} onTaken={onTaken} />}
    </Stack>
  );
}

type ActProps = { form: View; onTaken: (form: View) => void };

function Publishing({ form, isReady, onTaken }: ActProps & { isReady: boolean }) {
  const act = useAct();
  const path = { key: form.key };
  const publish = () => void act.run(() => must(api.POST("/api/forms/{key}/publish", { params: { path } })), { changes: ["forms"], words: "Published.", then: onTaken });
  const pause = (paused: boolean) => void act.run(() => must(api.PUT("/api/forms/{key}/paused", { params: { path }, body: { paused } })), { changes: ["forms"], words: paused ? "Closed. Who opens it reads so." : "Open again." });
  const isAhead = form.state === "draft" || form.ahead;
  return (
    <Row>
      <Button look={isAhead ? "main" : "plain"} isPending={act.busy} isDisabled={!isReady || (form.state === "live" && !form.ahead)} onPress={publish}>
        Publish
      </Button>
      {form.state === "live" && <Button onPress={() => pause(true)}>Close for now</Button>}
      {form.state === "paused" && <Button onPress={() => pause(false)}>Open again</Button>}
    </Row>
  );
}

function Editions({ form, may, onTaken }: ActProps & { may: boolean }) {
  const { timeZone } = useSession();
  const act = useAct();
  const toDraft = (number: number) => void act.run(() => must(api.POST("/api/forms/{key}/editions/{number}/draft", { params: { path: { key: form.key, number } } })), { changes: ["forms"], words: `The draft says what edition ${number} said.`, then: onTaken });
  return (
    <>
      <h2>Editions</h2>
      {form.editions.map((e) => (
        <div className="edition" key={e.number}>
          <span>
            {e.number}, {moment(e.publishedAt, timeZone)}
          </span>
          {e.live && <span>live</span>}
          {!e.live && may && (
            <Button look="quiet" onPress={() => toDraft(e.number)}>
              To the draft
            </Button>
          )}
        </div>
      ))}
    </>
  );
}
