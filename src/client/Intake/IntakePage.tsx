import { Link } from "react-router";
import type { Schema } from "../api/client";
import { CampaignList } from "../Campaigns/CampaignList";
import { useSession } from "../common/session";
import { Bench, Cap, Head, Inner, Pane } from "../parts/Bench";
import { DataTable } from "../parts/DataTable";
import { count, moment, money, whole } from "../parts/format";
import { Block } from "../parts/Layout";
import { Spark } from "../parts/pictures/Spark";
import { Empty, ErrorNote, Skeleton } from "../parts/States";
import { DropBox } from "./DropBox";
import { FormList } from "./Forms/FormList";
import { inWords, OutcomeBar } from "./OutcomeBar";
import { Progress } from "./Progress";
import { useIntake } from "./queries";

const states: Record<string, string> = { sifting: "being sifted", sifted: "in the sieve", taking: "being taken in", taken: "taken in", taking_back: "being taken back", taken_back: "taken back" };
const channels: Record<string, string> = { form: "Form", list: "List", mail: "Email", phone: "Telephone", http: "HTTP" };

/** Everything that brings leads in: the sources, and the tray of imports. */
export function IntakePage() {
  const intake = useIntake();
  return (
    <Bench>
      <Pane aria-label="Intake">
        <Inner>
          <Head>
            <div>
              <h1>Intake</h1>
              <p>Drop a list; the sieve shows what each row would become before anything is taken in.</p>
            </div>
          </Head>
          <DropBox />
          {intake.isPending && <Skeleton />}
          {intake.isError && <ErrorNote error={intake.error} />}
          {intake.data && (
            <>
              <Imports list={intake.data.imports} />
              <FormList />
              <CampaignList />
              <Sources list={intake.data.sources} showsCosts={intake.data.showsCosts} />
            </>
          )}
        </Inner>
      </Pane>
    </Bench>
  );
}

function Imports({ list }: { list: Schema["ImportView"][] }) {
  const { timeZone } = useSession();
  if (!list.length) return <Empty>Each list that comes in stands here with what became of its rows, and can be taken back.</Empty>;
  return (
    <Block as="section" aria-label="Imports" $below={8}>
      <h2>Imports</h2>
      <DataTable label="Imports" head={["List", "Source", { label: "What became of its rows", width: "30%" }, "State", "Dropped"]}>
        {list.map((d) => (
          <tr key={d.id}>
            <td>
              <Link to={`/intake/${d.id}`}>{d.fileName}</Link>
              <Cap>{count(d.counts.read, "row")}</Cap>
            </td>
            <td>{d.sourceName}</td>
            <td>
              <OutcomeBar counts={d.counts} />
              <Cap>{d.work ? <Progress imported={d} /> : inWords(d.counts)}</Cap>
            </td>
            <td>{states[d.state]}</td>
            <td>
              {moment(d.createdAt, timeZone)}
              <Cap>{d.by}</Cap>
            </td>
          </tr>
        ))}
      </DataTable>
    </Block>
  );
}

const numeric = (label: string) => ({ label, isNumber: true });
const head = ["Source", "Channel", { label: "Arrivals by day", width: 220 }, ...["Arrived", "Cleared the bar"].map(numeric)];
const spent = numeric("Spent for each");

function Sources({ list, showsCosts }: { list: Schema["SourceView"][]; showsCosts: boolean }) {
  return (
    <section aria-label="Sources">
      <h2>Sources, the last 30 days</h2>
      <DataTable label="Sources" head={showsCosts ? [...head, spent] : head}>
        {list.map((s) => (
          <tr key={s.key}>
            <td>
              <Link to={`/leads?source=${s.key}`}>{s.name}</Link>
            </td>
            <td>{channels[s.channel] ?? s.channel}</td>
            <td>
              <Spark label={`Arrivals in 30 days, at most ${Math.max(...s.days)} a day`} values={s.days} />
            </td>
            <td className="n">{whole(s.arrivals)}</td>
            <td className="n">{s.cleared ? `${whole(s.cleared)}, ${Math.round((100 * s.cleared) / s.arrivals)} %` : "none"}</td>
            {showsCosts && <td className="n">{s.costEach == null ? "–" : money(s.costEach, s.currency)}</td>}
          </tr>
        ))}
      </DataTable>
    </section>
  );
}
