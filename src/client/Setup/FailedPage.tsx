import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, must, type Schema } from "../api/client";
import { useActing } from "../common/acting";
import { Cluster, Table } from "../parts/Bench";
import { Button } from "../parts/Button";
import { count, moment } from "../parts/format";
import { Empty } from "../parts/States";
import { useSession } from "../common/session";
import { SetupPage } from "./SetupPage";
import { keys } from "../common/keys";

/** What was to follow by itself and did not: why, and what is to be done with it. */
export function FailedPage() {
  const failed = useQuery({ queryKey: keys.failed, queryFn: () => must(api.GET("/api/failed-work")) });
  return (
    <SetupPage
      title="Work that failed"
      intro="What the program was to do by itself and could not. It is tried again after a pause that grows, eight times; then it waits here for your word."
      query={failed}
    >
      {(data) =>
        data.length === 0 ? (
          <Empty>Nothing failed. What is to follow by itself does.</Empty>
        ) : (
          <Table $middle>
            <thead>
              <tr>
                <th>Work</th>
                <th>For</th>
                <th>Why it failed</th>
                <th>Tried</th>
                <th aria-label="What is to be done" />
              </tr>
            </thead>
            <tbody>
              {data.map((f) => (
                <Row key={`${f.kind} ${f.key}`} failed={f} />
              ))}
            </tbody>
          </Table>
        )
      }
    </SetupPage>
  );
}

function Row({ failed }: { failed: Schema["FailedWork"] }) {
  const { timeZone } = useSession();
  const act = useActing();
  const path = { kind: failed.kind, key: failed.key };
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
          <Button look="quiet" onPress={() => void act(() => must(api.POST("/api/failed-work/{kind}/{key}/again", { params: { path } })), "It is tried again now.")}>
            Try again
          </Button>
          <Button look="quiet" onPress={() => void act(() => must(api.POST("/api/failed-work/{kind}/{key}/leave", { params: { path } })), "It is not tried any more.")}>
            Leave it out
          </Button>
        </Cluster>
      </td>
    </tr>
  );
}
