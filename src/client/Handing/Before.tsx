import { useAct } from "../common/acting";
import { useSession } from "../common/session";
import { Button } from "../parts/Button";
import { DataTable } from "../parts/DataTable";
import { exact, moment } from "../parts/format";
import { Title } from "../parts/Words";
import { backWords, handingActs, type Holdings } from "./queries";

type Line = Holdings["before"][number];

/** What was handed on before, each with its way back. */
export function Before({ holdings: { before } }: { holdings: Holdings }) {
  if (before.length === 0) return null;
  return (
    <>
      <Title $above={8} $below={2}>
        Handed on before
      </Title>
      <DataTable label="Handed on before" head={["When", "By", "What", "Until", { label: "Acts", isUnseen: true }]} hasButtons width={1000}>
        {before.map((h) => (
          <Handed key={h.id} line={h} />
        ))}
      </DataTable>
    </>
  );
}

function Handed({ line: h }: { line: Line }) {
  const { timeZone } = useSession();
  const act = useAct();
  const undo = () =>
    void act.run(() => handingActs.undo(h.id), {
      changes: ["everything"],
      words: (back) => `${backWords(back)}.`,
    });
  return (
    <tr>
      <td title={exact(h.at, timeZone)}>{moment(h.at, timeZone)}</td>
      <td>{h.by}</td>
      <td>{h.words || "no records"}</td>
      <td>{h.backAt ? `back since ${moment(h.backAt, timeZone)}` : h.endsAt ? moment(h.endsAt, timeZone) : h.leaves ? "left with it" : "for good"}</td>
      <td>
        {!h.backAt && (
          <Button look="quiet" isPending={act.busy} onPress={undo} aria-label={`Give back what was handed on ${moment(h.at, timeZone)}`}>
            Give back
          </Button>
        )}
      </td>
    </tr>
  );
}
