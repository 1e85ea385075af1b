import { Link } from "react-router";
import { useAct } from "../common/acting";
import { useSession } from "../common/session";
import { Bench, Head, Inner, Pane } from "../parts/Bench";
import { Button } from "../parts/Button";
import { DataTable, FadedRow } from "../parts/DataTable";
import { moment } from "../parts/format";
import { Block, Row } from "../parts/Layout";
import { Empty, ErrorNote, Skeleton } from "../parts/States";
import { Soft, Title } from "../parts/Words";
import { askActs, useAsks, type AskLine, type How } from "./queries";

/** What colleagues ask for, and what one asked for oneself. */
export function AskedPage() {
  const asks = useAsks();
  return (
    <Bench>
      <Pane aria-label="Asked for">
        <Inner>
          <Head>
            <div>
              <h1>Asked for</h1>
              <p>Whoever makes or imports a record that exists is told that it is known and with whom, no more. They ask; whoever has it shares it, gives it or declines.</p>
            </div>
          </Head>
          {asks.isPending && <Skeleton />}
          {asks.isError && <ErrorNote error={asks.error} />}
          {asks.data && (
            <>
              {asks.data.mine.length === 0 ? <Empty>Nobody asks for anything of yours.</Empty> : <Mine asks={asks.data.mine} />}
              {asks.data.own.length > 0 && <Own asks={asks.data.own} />}
            </>
          )}
        </Inner>
      </Pane>
    </Bench>
  );
}

const pages: Record<string, (id: string) => string> = { lead: (id) => `/leads/${id}`, contact: (id) => `/deals/contacts/${id}`, account: (id) => `/deals/accounts/${id}` };
const kinds: Record<string, string> = { lead: "Lead", contact: "Contact", account: "Account" };

function Named({ ask }: { ask: AskLine }) {
  return (
    <>
      {ask.record ? <Link to={pages[ask.kind]!(ask.record)}>{ask.name}</Link> : "one that is known"}
      <br />
      <Soft>{kinds[ask.kind]}</Soft>
    </>
  );
}

const outcomes: Record<string, string> = { shared: "shared", given: "given", declined: "declined" };

function Mine({ asks }: { asks: AskLine[] }) {
  const { timeZone } = useSession();
  return (
    <DataTable label="Asked of you" head={["Record", "Who asks", "Why", "When", { label: "Answer", isUnseen: true }]} hasButtons>
      {asks.map((a) => (
        <FadedRow key={a.id} $faded={!!a.outcome}>
          <td>
            <Named ask={a} />
          </td>
          <td>{a.other}</td>
          <td>{a.word}</td>
          <td>{moment(a.askedAt, timeZone)}</td>
          <td>
            <Answer ask={a} />
          </td>
        </FadedRow>
      ))}
    </DataTable>
  );
}

const answers: readonly { how: How; label: string; done: (ask: AskLine) => string }[] = [
  { how: "shared", label: "Share", done: (a) => `${a.other} sees ${a.name} now.` },
  { how: "given", label: "Give", done: (a) => `${a.name} is with ${a.other} now.` },
  { how: "declined", label: "Decline", done: (a) => `${a.other} is told that you keep ${a.name}.` },
];

function Answer({ ask }: { ask: AskLine }) {
  const act = useAct();
  const undo = () => askActs.undo(ask.id);
  if (ask.outcome)
    return (
      <Row $gap={2}>
        <span>{outcomes[ask.outcome]}</span>
        <Button look="quiet" aria-label={`Take back the answer about ${ask.name}`} isPending={act.busy} onPress={() => void act.run(undo, { changes: ["asks"], words: "The answer is taken back." })}>
          Take back
        </Button>
      </Row>
    );
  return (
    <Row $gap={1}>
      {answers.map((a) => (
        <Button key={a.how} look="quiet" aria-label={`${a.label}: ${ask.name}, for ${ask.other}`} isPending={act.busy} onPress={() => void act.run(() => askActs.answer(ask.id, a.how, ""), { changes: ["asks"], words: a.done(ask), back: undo })}>
          {a.label}
        </Button>
      ))}
    </Row>
  );
}

function Own({ asks }: { asks: AskLine[] }) {
  const { timeZone } = useSession();
  return (
    <Block $above={8}>
      <Title $below={2}>What you asked for</Title>
      <DataTable label="What you asked for" head={["Record", "With", "When", "Answer"]}>
        {asks.map((a) => (
          <tr key={a.id}>
            <td>
              <Named ask={a} />
            </td>
            <td>{a.other || "nobody"}</td>
            <td>{moment(a.askedAt, timeZone)}</td>
            <td>{a.outcome ? outcomes[a.outcome] : "not yet"}</td>
          </tr>
        ))}
      </DataTable>
    </Block>
  );
}
