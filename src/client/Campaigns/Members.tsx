import { Link } from "react-router";
import type { Schema } from "../api/client";
import { Cap, Cluster } from "../parts/Bench";
import { DataTable } from "../parts/DataTable";
import { Button } from "../parts/Button";
import { count, day, exact } from "../parts/format";
import { Skeleton, ErrorNote } from "../parts/States";
import { useLabels } from "../common/fields";
import { useSession } from "../common/session";
import { useMembers } from "./queries";

type Props = { campaign: string; response: string | null; label: string | undefined; onAll: () => void };

/** The members of a campaign, and what each of them did. */
export function Members({ campaign, response, label, onAll }: Props) {
  const members = useMembers(campaign, response);
  if (members.isPending) return <Skeleton />;
  if (members.isError) return <ErrorNote error={members.error} />;
  const { pages } = members.data;
  if (!pages[0]!.count) return null;
  return (
    <section aria-label="Members">
      <Cluster>
        <h2>{response ? `${label}: ${count(pages[0]!.count, "person", "people")}` : count(pages[0]!.count, "member")}</h2>
        {response && (
          <Button look="quiet" onPress={onAll}>
            Show all
          </Button>
        )}
      </Cluster>
      <DataTable label="Members" head={["Person", "State", "Known before", "What they did, latest first"]}>
        {pages.flatMap((p) => p.members.map((m) => <Row key={m.lead} member={m} />))}
      </DataTable>
      {members.hasNextPage && (
        <Button onPress={() => void members.fetchNextPage()} isPending={members.isFetchingNextPage}>
          Show 50 more
        </Button>
      )}
    </section>
  );
}

function Row({ member: m }: { member: Schema["CampaignMember"] }) {
  const { timeZone } = useSession();
  const state = useLabels("state");
  return (
    <tr>
      <td>
        <Link to={`/leads/${m.lead}`}>{m.name}</Link>
        {m.company && m.company !== m.name && <Cap>{m.company}</Cap>}
      </td>
      <td>{state(m.state)}</td>
      <td>{m.known ? "yes" : "no, it brought them"}</td>
      <td>
        {m.responses.map((r, i) => (
          <span key={r.id} title={`${exact(r.at, timeZone)}. ${r.detail}`}>
            {i > 0 && ", "}
            {i === 0 ? r.label : r.label.toLowerCase()} {day(r.at)}
          </span>
        ))}
      </td>
    </tr>
  );
}
