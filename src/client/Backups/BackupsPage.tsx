import { useQuery } from "@tanstack/react-query";
import { api, must, type Schema } from "../api/client";
import { useAct } from "../common/acting";
import { keys } from "../common/keys";
import { useSession } from "../common/session";
import { Notice } from "../parts/Bench";
import { Button } from "../parts/Button";
import { DataTable } from "../parts/DataTable";
import { bytes, exact, moment, whole } from "../parts/format";
import { Block } from "../parts/Layout";
import { Hint, Text } from "../parts/Words";
import { SetupPage } from "../Setup/SetupPage";

type Backups = Schema["BackupsView"];
type Run = NonNullable<Backups["last"]>;

// While one is being made the page looks after it.
const often = 2000;

/** The last backup and its trial, those that are kept, and one more by hand. */
export function BackupsPage() {
  const backups = useQuery({ queryKey: keys.backups, queryFn: () => must(api.GET("/api/setup/backups")), refetchInterval: (q) => (q.state.data?.isMaking ? often : false) });
  const act = useAct();
  const make = () => void act.run(() => must(api.POST("/api/setup/backups")), { changes: ["backups"] });
  const isMaking = act.busy || !!backups.data?.isMaking;
  const button = backups.data?.isOn && (
    <Button look="main" onPress={make} isPending={isMaking}>
      {isMaking ? "One is being made" : "Make one now"}
    </Button>
  );
  return (
    <SetupPage title="Backups" intro="All that is kept here, as one file: the records, the set-up, the key, the letters that wait. Each is tried by putting it back beside what is at work." query={backups} beside={button}>
      {(b) => (
        <>
          <Standing backups={b} />
          {b.files.length > 0 && <Kept files={b.files} />}
        </>
      )}
    </SetupPage>
  );
}

function Standing({ backups: b }: { backups: Backups }) {
  if (!b.isOn) return <Notice $colour="bad">No backups are made: no folder for them is set. Whoever runs the machine sets Backup:Folder; ./lantern start does it by itself.</Notice>;
  return (
    <Block $below={5}>
      {!b.last && <Text>None was made yet. One is made each night, and the latest {b.keep} are kept.</Text>}
      {b.last?.problem && <Failed run={b.last} />}
      {b.good && <Good run={b.good} isTried={b.isTried} />}
      <Hint>
        They lie in {b.folder}. Copy them to another machine: one that burns down takes its backups along. ./lantern restore FILE puts one into a fresh place.
      </Hint>
    </Block>
  );
}

function Failed({ run }: { run: Run }) {
  const { timeZone } = useSession();
  return (
    <Notice $colour="bad" role="alert">
      The last one, <time title={exact(run.at, timeZone)}>{moment(run.at, timeZone)}</time>, failed: {run.problem}
    </Notice>
  );
}

function Good({ run, isTried }: { run: Run; isTried: boolean }) {
  const { timeZone } = useSession();
  return (
    <Notice $colour="good">
      The last good one is of <time title={exact(run.at, timeZone)}>{moment(run.at, timeZone)}</time>: {bytes(run.bytes)} in {run.seconds < 10 ? run.seconds.toFixed(1) : whole(Math.round(run.seconds))} s.{" "}
      {isTried && run.tables ? `It was put back on trial: ${run.tables} tables with ${whole(run.rows)} rows, the same as here.` : "It was not put back on trial."}
    </Notice>
  );
}

function Kept({ files }: { files: Backups["files"] }) {
  const { timeZone } = useSession();
  return (
    <DataTable label="Backups that are kept" head={["File", { label: "Size", isNumber: true }, "Made"]} width={620}>
      {files.map((f) => (
        <tr key={f.name}>
          <td>{f.name}</td>
          <td className="n">{bytes(f.bytes)}</td>
          <td title={exact(f.at, timeZone)}>{moment(f.at, timeZone)}</td>
        </tr>
      ))}
    </DataTable>
  );
}
