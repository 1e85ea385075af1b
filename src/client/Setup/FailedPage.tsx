import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, must, type Schema } from "../api/client";
import { useAct } from "../common/acting";
import { keys } from "../common/keys";
import { useSession } from "../common/session";
import { Cluster } from "../parts/Bench";
import { Button } from "../parts/Button";
import { DataTable } from "../parts/DataTable";
import { count, moment } from "../parts/format";
import { Empty } from "../parts/States";
import { SetupPage } from "./SetupPage";

const intro = "What the program was to do by itself and could not. It is tried again after a pause that grows, eight times; then it waits here for your word.";

/** What was to follow by itself and did not: why, and what is to be done with it. */
export function FailedPage() {
  const failed = useQuery({ queryKey: keys.failed, queryFn: () => must(api.GET("/api/failed-work")) });
  return (
    <SetupPage title="Work that failed" intro={intro} query={failed}>
      {(data) =>
        data.length === 0 ? (
          <Empty>Nothing failed. What is to follow by itself does.</Empty>
        ) : (
          <DataTable label="Work that failed" head={["Work", "For", "Why it failed", "Tried", { label: "What is to be done", isUnseen: true }]} hasButtons>
            {data.map((f) => (
              <Row key={`${f.kind} ${f.key}`} failed={f} />
            ))}
          </DataTable>
        )
      }
    </SetupPage>
  );
}

function Row({ failed }: { failed: Schema["FailedWork"] }) {
  const { timeZone } = useSession();
  const act = useAct();
  const path = { kind: failed.kind, key: failed.key };
  const again = () => void act.run(() => must(api.POST("/api/failed-work/{kind}/{key}/again", { params: { path } })), { changes: ["failed"], words: "It is tried again now." });
  const leave = () => void act.run(() => must(api.POST("/api/failed-work/{kind}/{key}/leave", { params: { path } })), { changes: ["failed"], words: "It is not tried any more." });
  return (
    <tr>
      <td>{failed.work}</td>
      <td>
        <Link to={`/leads/${failed.key}`}>{failed.name}</Link>
      </td>
      <td>{failed.problem}</td>
      <td>
        {count(failed.tries, "time")}
        {failed.nextAt ? `, again ${moment(failed.nextAt, timeZone)}` : ", given up"}
      </td>
      <td>
        <Cluster>
          <Button look="quiet" onPress={again}>
            Try again
          </Button>
          <Button look="quiet" onPress={leave}>
            Leave it out
          </Button>
        </Cluster>
      </td>
    </tr>
  );
}
