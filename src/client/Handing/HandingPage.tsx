import { useState } from "react";
import { Link, useParams } from "react-router";
import { useAct } from "../common/acting";
import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import { Bench, Head, Inner, Notice, Pane } from "../parts/Bench";
import { Button } from "../parts/Button";
import { DayBox } from "../parts/DayBox";
import { ChoiceBox, TextBox } from "../parts/Field";
import { count } from "../parts/format";
import { Block, Columns } from "../parts/Layout";
import { ErrorNote, Skeleton } from "../parts/States";
import { Hint } from "../parts/Words";
import { Before } from "./Before";
import { Beside } from "./Beside";
import { Kinds } from "./Kinds";
import { Shares } from "./Shares";
import { orderOf, proposed, type Choices } from "./order";
import { backWords, handingActs, useHoldings, type HandingView, type Holdings } from "./queries";

/** All that somebody holds, handed on in one act: for good, for a leave, or while they stay. */
export function HandingPage() {
  const { id = "" } = useParams();
  const holdings = useHoldings(id);
  return (
    <Bench>
      <Pane aria-label="Hand on">
        <Inner>
          <Head>
            <div>
              <h1>{holdings.data ? `Hand on what ${holdings.data.name} holds` : "Hand on"}</h1>
              <p>
                Everything in one act, with the way back. What is done already stays under their name. <Link to="/setup/people">All people</Link>
              </p>
            </div>
          </Head>
          {holdings.isPending && <Skeleton />}
          {holdings.isError && <ErrorNote error={holdings.error} />}
          {holdings.data && (isNothing(holdings.data) ? <Hint>{holdings.data.name} holds no open records.</Hint> : <Handing key={`${id}:${holdings.data.here}`} holdings={holdings.data} />)}
          {holdings.data && <Before holdings={holdings.data} />}
        </Inner>
      </Pane>
    </Bench>
  );
}

// Somebody who left may still have what was given to them, or was left over.
const isNothing = ({ here, kinds }: Holdings) => !here && kinds.every((k) => k.count === 0);

const modes = [
  { key: "leaves", label: "works here no more, or not for now" },
  { key: "leave", label: "is on leave, and has it back afterwards" },
  { key: "stays", label: "stays, and hands this on" },
];

export type Form = ReturnType<typeof useHandingForm>;

function useHandingForm(holdings: Holdings) {
  return useForm<Choices>({ called: `the handing of ${holdings.name}`, name: `handing:${holdings.id}`, initial: proposed(holdings) });
}

function Handing({ holdings }: { holdings: Holdings }) {
  const form = useHandingForm(holdings);
  // What would be, for these very choices: any change of them makes it untrue.
  const [seen, setSeen] = useState<{ of: string; view: HandingView }>();
  const order = orderOf(form.values, holdings);
  const of = JSON.stringify(order);
  const look = () => form.send(() => handingActs.look(holdings.id, order), { changes: [], stays: true, then: (view) => setSeen({ of, view }) });
  const held = holdings.kinds.filter((k) => k.count > 0);
  const { mode } = form.values;
  const allowed = holdings.here ? modes : modes.slice(2);
  return (
    <>
      <FormBox form={form} words="See who gets what" look="plain" onSend={look} isReady={mode !== "leave" || !!form.values.lastDay}>
        <Columns $of="minmax(0, 360px) minmax(0, 220px)" $align="start">
          <ChoiceBox label={holdings.name} value={mode} options={allowed} onChange={(m) => form.set({ mode: m })} />
          {mode === "leave" && <DayBox label="Last day of the leave" {...form.bind("lastDay")} />}
        </Columns>
        {held.length === 0 ? <Hint>{holdings.name} holds no open records.</Hint> : <Kinds holdings={holdings} form={form} />}
        {mode === "leaves" && <Beside holdings={holdings} form={form} />}
        <Block $width={620}>
          <TextBox label="A word to those who get something" lines={2} {...form.bind("note")} />
        </Block>
      </FormBox>
      {seen && seen.of === of && <Confirm holdings={holdings} form={form} view={seen.view} onDone={() => setSeen(undefined)} />}
    </>
  );
}

function Confirm({ holdings, form, view, onDone }: { holdings: Holdings; form: Form; view: HandingView; onDone: () => void }) {
  const act = useAct("here");
  const { mode } = form.values;
  const all = view.shares.flatMap((s) => s.counts).reduce((sum, c) => sum + c.count, 0);
  const hand = () =>
    void act.run(() => handingActs.hand(holdings.id, orderOf(form.values, holdings)), {
      changes: ["everything"],
      words: `${count(all, "record")} of ${holdings.name} ${all === 1 ? "is" : "are"} handed on.`,
      back: ({ id }) => handingActs.undo(id!),
      backWords,
      then: () => {
        form.forget();
        onDone();
      },
    });
  return (
    <Block $above={4} role="region" aria-label="Who gets what">
      <Shares view={view} />
      {mode === "leaves" && (
        <Notice $colour="lamp">
          {holdings.name} can then no longer sign in
          {view.tokens > 0 && `, and ${count(view.tokens, "access token")} of theirs end for good`}
          {holdings.hasCalendar && ", and the address of their calendar ends for good"}.
        </Notice>
      )}
      <Button look={mode === "leaves" ? "bad" : "main"} onPress={hand} isPending={act.busy}>
        {mode === "leaves" ? `Hand on and let ${holdings.name} go` : all > 0 ? `Hand on ${count(all, "record")}` : "Enter the leave"}
      </Button>
      {act.any && <Notice $colour="bad" role="alert">{act.any}</Notice>}
    </Block>
  );
}
