import { useQuery } from "@tanstack/react-query";
import { api, must } from "../api/client";
import { keys } from "../common/keys";
import { useSession } from "../common/session";
import { DataTable } from "../parts/DataTable";
import { moment, whole } from "../parts/format";
import { Block } from "../parts/Layout";
import { Hint, Title } from "../parts/Words";

/** How often people were told of records that they do not see. */
export function KnownCounts() {
  const { timeZone } = useSession();
  const counts = useQuery({ queryKey: keys.knownCounts, queryFn: () => must(api.GET("/api/setup/known")) });
  const number = (label: string) => ({ label, isNumber: true });
  return (
    <Block $above={8} $width={860}>
      <Title $below={2}>Told of records that they do not see</Title>
      <Hint>Whoever makes or imports a record that exists is told that it is known and with whom, no more; each once an hour, up to the limit of an hour. The last 30 days.</Hint>
      {counts.data?.length === 0 && <Hint>Nobody was.</Hint>}
      {!!counts.data?.length && (
        <DataTable label="Told of records" head={["Person", number("Told"), number("Asked"), number("Shared"), number("Given"), number("Declined"), "Last"]}>
          {counts.data.map((c) => (
            <tr key={c.person}>
              <td>{c.person}</td>
              <td className="n">{whole(c.told)}</td>
              <td className="n">{whole(c.asked)}</td>
              <td className="n">{whole(c.shared)}</td>
              <td className="n">{whole(c.given)}</td>
              <td className="n">{whole(c.declined)}</td>
              <td>{moment(c.lastAt, timeZone)}</td>
            </tr>
          ))}
        </DataTable>
      )}
    </Block>
  );
}
