import { useState } from "react";
import { DropZone, FileTrigger, type FileDropItem } from "react-aria-components";
import { Link, useNavigate } from "react-router";
import styled from "styled-components";
import type { Schema } from "../api/client";
import { Bench, Cap, Head, Inner, Pane, Table } from "../parts/Bench";
import { Button } from "../parts/Button";
import { count, money, moment, whole } from "../parts/format";
import { Empty, Skeleton, ErrorNote } from "../parts/States";
import { small } from "../parts/theme";
import { tell } from "../parts/Toast";
import { useMay, useRefresh, useSession } from "../common/session";
import { CampaignList } from "../Campaigns/CampaignList";
import { FormList } from "./Forms/FormList";
import { inWords, OutcomeBar } from "./OutcomeBar";
import { Progress } from "./Progress";
import { dropLetter, dropList, useIntake } from "./queries";

const Drop = styled(DropZone)`
  display: flex;
  align-items: center;
  gap: 18px;
  padding: 16px 18px;
  margin: 4px 0 26px;
  border: 1px dashed var(--mark);
  border-radius: 3px;
  background: var(--sheet);
  &[data-drop-target] {
    border-color: var(--lamp);
    background: var(--lamp-wash);
  }
  p {
    ${small}
  }
`;

const states: Record<string, string> = { sifting: "being sifted", sifted: "in the sieve", taking: "being taken in", taken: "taken in", taking_back: "being taken back", taken_back: "taken back" };
const channels: Record<string, string> = { form: "Form", list: "List", mail: "Email", phone: "Telephone", http: "HTTP" };

/** Everything that brings leads in: the sources, and the tray of imports. */
export function IntakePage() {
  const intake = useIntake();
  return (
    <Bench>
      <Pane>
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
          {intake.data && <Imports list={intake.data.imports} />}
          {intake.data && <FormList />}
          {intake.data && <CampaignList />}
          {intake.data && <Sources list={intake.data.sources} />}
        </Inner>
      </Pane>
    </Bench>
  );
}

function DropBox() {
  const [busy, setBusy] = useState<{ name: string; share: number } | null>(null);
  const [error, setError] = useState<unknown>();
  const navigate = useNavigate();
  const refresh = useRefresh();
  const may = useMay("runIntake");
  const send = async (file?: File) => {
    if (!file || busy) return;
    setError(undefined);
    if (/\.eml$/i.test(file.name)) return sendLetter(file);
    setBusy({ name: file.name, share: 0 });
    try {
      const sieve = await dropList(file, (share) => setBusy({ name: file.name, share }));
      await refresh();
      void navigate(`/intake/${sieve.import.id}`);
    } catch (e) {
      setError(e);
    } finally {
      setBusy(null);
    }
  };
  const sendLetter = async (file: File) => {
    try {
      const [letter] = await dropLetter(file);
      await refresh();
      tell(letter!.again ? "This letter was taken in before." : letter!.state === "waiting" ? "The letter waits for your word." : letter!.lead ? "The letter stands in its lead's story." : "The letter is kept; it concerns no lead.");
      if (letter!.lead) void navigate(`/leads/${letter!.lead}`);
      else if (letter!.state === "waiting") void navigate("/intake/waiting");
    } catch (e) {
      setError(e);
    }
  };
  if (!may) return null;
  return (
    <>
      <Drop aria-label="Drop a list here" onDrop={async (e) => void send(await (e.items.find((i) => i.kind === "file") as FileDropItem | undefined)?.getFile())}>
        <FileTrigger onSelect={(files) => void send(files?.[0])}>
          <Button look="main" isDisabled={!!busy}>
            Choose a list
          </Button>
        </FileTrigger>
        <p role="status">{busy ? (busy.share < 1 ? `Sending ${busy.name}, ${Math.round(busy.share * 100)} %` : `Reading and sifting ${busy.name} …`) : "or drop it here. CSV with any separator and encoding, XLSX, vCard, JSON; a million rows and more. Letters (.eml) too."}</p>
      </Drop>
      {!!error && <ErrorNote error={error} />}
    </>
  );
}

function Imports({ list }: { list: Schema["ImportView"][] }) {
  const { timeZone } = useSession();
  if (!list.length) return <Empty>Each list that comes in stands here with what became of its rows, and can be taken back.</Empty>;
  return (
    <section aria-label="Imports" style={{ marginBottom: 34 }}>
      <h2>Imports</h2>
      <Table>
        <thead>
          <tr>
            <th>List</th>
            <th>Source</th>
            <th style={{ width: "30%" }}>What became of its rows</th>
            <th>State</th>
            <th>Dropped</th>
          </tr>
        </thead>
        <tbody>
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
        </tbody>
      </Table>
    </section>
  );
}

function Sources({ list }: { list: Schema["SourceView"][] }) {
  return (
    <section aria-label="Sources">
      <h2>Sources, the last 30 days</h2>
      <Table>
        <thead>
          <tr>
            <th>Source</th>
            <th>Channel</th>
            <th style={{ width: 220 }}>Arrivals by day</th>
            <th className="n">Arrived</th>
            <th className="n">Cleared the bar</th>
            <th className="n">Spent for each</th>
          </tr>
        </thead>
        <tbody>
          {list.map((s) => (
            <tr key={s.key}>
              <td>
                <Link to={`/leads?source=${s.key}`}>{s.name}</Link>
              </td>
              <td>{channels[s.channel] ?? s.channel}</td>
              <td>
                <Days days={s.days} />
              </td>
              <td className="n">{whole(s.arrivals)}</td>
              <td className="n">{s.cleared ? `${whole(s.cleared)}, ${Math.round((100 * s.cleared) / s.arrivals)} %` : "none"}</td>
              <td className="n">{s.costEach == null ? "–" : money(s.costEach, s.currency)}</td>
            </tr>
          ))}
        </tbody>
      </Table>
    </section>
  );
}

function Days({ days }: { days: number[] }) {
  const top = Math.max(4, ...days);
  return (
    <svg width="210" height="24" viewBox="0 0 210 24" role="img" aria-label={`${days.reduce((a, b) => a + b, 0)} arrivals, at most ${Math.max(...days)} a day`}>
      <path d="M0 23.5h210" stroke="var(--hair)" />
      {days.map((n, i) => n > 0 && <rect key={i} x={i * 7} width="5" y={23 - (n / top) * 21} height={(n / top) * 21} fill="var(--slate)" rx="1" />)}
    </svg>
  );
}
