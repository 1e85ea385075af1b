import { Link, useNavigate, useParams } from "react-router";
import styled from "styled-components";
import { useAct } from "../common/acting";
import { Bench, Inner, Pane } from "../parts/Bench";
import { Button } from "../parts/Button";
import { Block, Row, Unseen } from "../parts/Layout";
import { ErrorNote, Skeleton } from "../parts/States";
import { small } from "../parts/theme";
import { Hint } from "../parts/Words";
import { startActs, useStart, type Start, type Step } from "./queries";
import { StepBody } from "./StepBody";
import { nextStep, stepAfter, steps } from "./steps";

const Way = styled.ol`
  list-style: none;
  padding: 0;
  margin: 12px 0 20px;
  a {
    display: grid;
    grid-template-columns: 16px minmax(0, 1fr);
    gap: 10px;
    align-items: center;
    padding: 9px 8px;
    border-radius: 3px;
    color: var(--ink);
    text-decoration: none;
  }
  a:hover {
    background: var(--slate-wash);
  }
  a[aria-current] {
    font-weight: 650;
    background: var(--sheet);
  }
  small {
    ${small}
    display: block;
  }
`;

const Bulb = styled.span<{ $state: "done" | "left" | "open" }>`
  width: 13px;
  height: 13px;
  border-radius: 50%;
  border: 1.5px ${(p) => (p.$state === "left" ? "dashed" : "solid")} var(--mark);
  ${(p) => p.$state === "done" && "background: var(--lamp); border-color: var(--lamp);"}
`;

const said = { done: "done", left: "left for later", open: "" };
const stateOf = (step: Start["steps"][number]) => (step.done ? "done" : step.left ? "left" : "open");

/** The first hour: a step at a time, each can be left and taken up. */
export function StartPage() {
  const start = useStart();
  const { step } = useParams();
  if (start.isPending) return <Skeleton />;
  if (start.isError) return <ErrorNote error={start.error} />;
  const at = steps.find((s) => s.key === step)?.key ?? nextStep(start.data);
  return (
    <Bench>
      <Pane $width={300} aria-label="The first hour">
        <Inner>
          <h1>The first hour</h1>
          <Hint>Leave a step and take it up when you like; what you have done stays.</Hint>
          <Steps start={start.data} at={at} />
          {!start.data.ended && <Ending />}
        </Inner>
      </Pane>
      <Pane $sheet aria-label={steps.find((s) => s.key === at)?.name ?? "All is done"}>
        <Inner>{at ? <One key={at} start={start.data} at={at} /> : <AllDone />}</Inner>
      </Pane>
    </Bench>
  );
}

function Steps({ start, at }: { start: Start; at?: Step }) {
  return (
    <nav aria-label="Steps">
      <Way>
        {steps.map((s) => {
          const state = stateOf(start.steps.find((x) => x.key === s.key)!);
          return (
            <li key={s.key}>
              <Link to={`/setup/start/${s.key}`} aria-current={s.key === at ? "step" : undefined}>
                <Bulb $state={state} aria-hidden />
                <span>
                  {s.name}
                  {state === "left" ? <small>{said.left}</small> : <Unseen> {said[state]}</Unseen>}
                </span>
              </Link>
            </li>
          );
        })}
      </Way>
    </nav>
  );
}

function Ending() {
  const act = useAct();
  const navigate = useNavigate();
  const end = () => void act.run(startActs.end, { changes: ["start", "session"], words: "The first hour is over. What is left stands under Setup.", then: () => void navigate("/setup") });
  return (
    <Button look="quiet" onPress={end} isPending={act.busy}>
      End it here
    </Button>
  );
}

function One({ start, at }: { start: Start; at: Step }) {
  const navigate = useNavigate();
  const act = useAct();
  const { name, about } = steps.find((s) => s.key === at)!;
  const { done } = start.steps.find((s) => s.key === at)!;
  const after = stepAfter(at);
  const go = () => void navigate(after ? `/setup/start/${after}` : "/setup/start");
  const leave = () => void act.run(() => startActs.leave(at), { changes: ["start"], then: go });
  return (
    <>
      <h2>{name}</h2>
      <Hint $below={5}>{about}</Hint>
      <StepBody start={start} at={at} onDone={go} />
      <Block $above={6}>
        <Row>
          {done && after && <Button onPress={go}>Go on</Button>}
          {!done && (
            <Button look="quiet" onPress={leave} isPending={act.busy}>
              Not now
            </Button>
          )}
        </Row>
      </Block>
    </>
  );
}

function AllDone() {
  return (
    <>
      <h2>All is done</h2>
      <Hint>
        Nothing of it is left. Go on at the <Link to="/desk">Desk</Link>; whatever you want otherwise stands under <Link to="/setup">Setup</Link>.
      </Hint>
    </>
  );
}
